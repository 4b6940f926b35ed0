// The manifest checked by sha256sum itself, and the command line as a stranger would use it.

import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { manifestLine, parseManifestLine } from '@/core/fixity/manifest';

const NAMES = [
  'plain.jpg',
  'a b ð 🐑.jpg',
  'in/deep er/x.jpg',
  'back\\slash.jpg',
  'new\nline.jpg',
  '-dash.jpg',
  '.dot.jpg',
  ' lead and trail .jpg',
];

describe('the manifest', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'wembo-manifest-'));
  const lines = NAMES.map((name) => {
    mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    writeFileSync(path.join(folder, name), name);
    return { path: name, sha256: createHash('sha256').update(name).digest('hex') };
  });

  it('of any names is checked by sha256sum, and names a file that changed', () => {
    writeFileSync(path.join(folder, 'manifest'), lines.map(manifestLine).join(''));
    const check = () => spawnSync('sha256sum', ['-c', '--strict', 'manifest'], { cwd: folder, encoding: 'utf8' });
    expect(check().status).toBe(0);
    expect(check().stdout.match(/: OK/g)).toHaveLength(NAMES.length);
    writeFileSync(path.join(folder, 'plain.jpg'), 'other');
    expect(check().status).toBe(1);
    expect(check().stdout).toContain('plain.jpg: FAILED');
    writeFileSync(path.join(folder, 'plain.jpg'), 'plain.jpg');
  });

  it('that sha256sum wrote is read name for name', () => {
    const { stdout } = spawnSync('sha256sum', ['--', ...NAMES], { cwd: folder, encoding: 'utf8' });
    expect(stdout.trimEnd().split('\n').map(parseManifestLine)).toEqual(lines);
  });
});

describe('wembo inspect', () => {
  const wembo = (...args: string[]) =>
    spawnSync('node_modules/.bin/tsx', ['tools/wembo.ts', ...args], { encoding: 'utf8' });

  it('prints one JSON line a file, and goes on after one that cannot be read', () => {
    const { stdout, status } = wembo(
      'inspect',
      '.demo/harbour/2019/2019-07-04 Klaksvík slip/NK4_2031.jpg',
      'no such file.jpg',
      'package.json',
    );
    const [photo, missing, other] = stdout
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Record<string, unknown>);
    expect(photo).toMatchObject({
      format: 'jpeg',
      width: 1200,
      height: 800,
      captured: { written: '2019-07-04T14:03:22', offset: '+01:00' },
      camera: { model: 'Norda K4' },
      problems: [],
      preview: null,
    });
    expect(missing).toMatchObject({ file: 'no such file.jpg', problems: [{ code: 'file/unreadable' }] });
    expect(other).toMatchObject({ format: 'unknown', problems: [{ code: 'file/not-understood' }] });
    expect(status).toBe(1);
  });

  it('says where the camera stood, as ExifTool does', () => {
    const file = '.demo/harbour/2019/2019-07-04 Klaksvík slip/NK4_2032.jpg';
    const { stdout } = spawnSync(
      'exiftool',
      ['-json', '-n', '-Composite:GPSLatitude', '-Composite:GPSLongitude', '-Composite:GPSAltitude', file],
      { encoding: 'utf8' },
    );
    const [said] = JSON.parse(stdout) as { GPSLatitude: number; GPSLongitude: number; GPSAltitude: number }[];
    const { gps } = JSON.parse(wembo('inspect', file).stdout) as { gps: object };
    expect(gps).toEqual({
      lat: expect.closeTo(said?.GPSLatitude ?? NaN, 6) as number,
      lon: expect.closeTo(said?.GPSLongitude ?? NaN, 6) as number,
      altitudeM: expect.closeTo(said?.GPSAltitude ?? NaN, 1) as number,
    });
  });

  it('says how it is used', () => {
    expect(wembo('nonsense')).toMatchObject({ status: 2, stderr: expect.stringContaining('Usage') as string });
  });
});

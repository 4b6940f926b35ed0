// RFC 8493, "The BagIt File Packaging Format (V1.0)", October 2018, as remembered: the example of section 4.1 with its
// words, and a bag for each rule that breaks that rule alone.

import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { type BagEntry, type BagFaultCode, checkBag, isBagTagFile } from './bag-check';
import {
  DECLARATION,
  infoValues,
  pathWritten,
  readBagInfo,
  readDeclaration,
  readManifest,
  writeBagInfo,
  writeManifest,
} from './tag-files';

const utf8 = new TextEncoder();
const hash = (algorithm: string, text: string) => createHash(algorithm).update(text).digest('hex');
type Files = Record<string, string | Uint8Array>;

/** A bag of one payload file, listed by SHA-256, with a tag manifest. */
function bag(
  change: (files: Files) => void = () => undefined,
  payload: Record<string, string> = { 'data/27613-h/q172.txt': 'text' },
): Files {
  const files: Files = { ...payload };
  files['bagit.txt'] = DECLARATION;
  files['manifest-sha256.txt'] = writeManifest(
    new Map(Object.entries(payload).map(([path, text]) => [path, hash('sha256', text)])),
  );
  files['bag-info.txt'] =
    `Contact-Name: An Archivist\nPayload-Oxum: ${Object.values(payload).join('').length}.${Object.keys(payload).length}\n`;
  change(files);
  if (!('tagmanifest-sha256.txt' in files)) {
    const tags = Object.entries(files).filter(([path]) => !path.startsWith('data/'));
    files['tagmanifest-sha256.txt'] = writeManifest(
      new Map(tags.map(([path, text]) => [path, hash('sha256', text as string)])),
    );
  }
  return files;
}

function check(files: Files) {
  const bytes = Object.entries(files).map(
    ([path, text]) => [path, typeof text === 'string' ? utf8.encode(text) : text] as const,
  );
  const entries: BagEntry[] = bytes.map(([path, { length }]) => ({ path, sizeBytes: length }));
  return checkBag(entries, new Map(bytes.filter(([path]) => isBagTagFile(path))));
}
const codes = (files: Files): BagFaultCode[] => check(files).faults.map(({ code }) => code);

describe('a bag', () => {
  it('that keeps every rule is complete, and says what is to be read', () => {
    const { faults, listed, version, payload } = check(bag());
    expect(faults).toEqual([]);
    expect([version, payload]).toEqual(['1.0', { bytes: 4, files: 1 }]);
    expect(listed.map(({ path, isPayload }) => [path, isPayload])).toEqual([
      ['bag-info.txt', false],
      ['bagit.txt', false],
      ['data/27613-h/q172.txt', true],
      ['manifest-sha256.txt', false],
    ]);
  });

  it('may be of an earlier version, by MD5, with ends of lines of another system', () => {
    const text = 'text';
    const files: Files = {
      'bagit.txt': 'BagIt-Version: 0.97\r\nTag-File-Character-Encoding: UTF-8\r\n',
      'data/100%25.txt': text,
      'manifest-md5.txt': `${hash('md5', text).toUpperCase()}\tdata/100%25.txt\r\n`,
    };
    expect(check(files)).toMatchObject({ faults: [], version: '0.97' });
  });

  it('may be empty', () => {
    expect(codes(bag(undefined, {}))).toEqual([]);
  });

  it('names files as Unicode has them in another form', () => {
    const [composed, apart] = ['NFC', 'NFD'].map((form) => 'data/Sørvágur.jpg'.normalize(form)) as [string, string];
    const files = bag(undefined, { [composed]: 'text' });
    delete files[composed];
    expect(check({ ...files, [apart]: 'text' })).toMatchObject({ faults: [], payload: { files: 1 } });
  });

  const set = (path: string, text: string | Uint8Array) => (files: Files) => void (files[path] = text);
  const drop = (path: string) => (files: Files) => void delete files[path];
  const add = (path: string, text: string) => (files: Files) => void (files[path] = `${files[path] as string}${text}`);
  const sum = hash('sha256', 'text');
  const breaks: [string, BagFaultCode, Files][] = [
    ['has no declaration (2.1.1)', 'no-declaration', bag(drop('bagit.txt'))],
    ['has a declaration of one line (2.1.1)', 'declaration', bag(set('bagit.txt', 'BagIt-Version: 1.0\n'))],
    ['has a mark before its declaration (2.1.1)', 'declaration', bag(set('bagit.txt', `\uFEFF${DECLARATION}`))],
    ['is of a later version', 'version', bag(set('bagit.txt', DECLARATION.replace('1.0', '2.0')))],
    ['is in an encoding nobody knows', 'encoding', bag(set('bagit.txt', DECLARATION.replace('UTF-8', 'UTF-99')))],
    [
      'has no payload folder (2.1.2)',
      'missing',
      (() => {
        const files = bag();
        delete files['data/27613-h/q172.txt'];
        files['bag-info.txt'] = 'Contact-Name: An Archivist\n';
        return files;
      })(),
    ],
    ['has no payload manifest (2.1.3)', 'no-manifest', bag(drop('manifest-sha256.txt'))],
    ['lists by an algorithm nobody knows', 'algorithm', bag(set('manifest-whirl.txt', 'aa  data/27613-h/q172.txt\n'))],
    ['has a line without a checksum (2.1.3)', 'line', bag(add('manifest-sha256.txt', 'data/27613-h/q172.txt\n'))],
    ['has a checksum cut short (2.4)', 'line', bag(add('manifest-sha256.txt', `${sum.slice(1)}  data/x.txt\n`))],
    ['lists what lies outside (2.1.3, 5.1)', 'outside', bag(add('manifest-sha256.txt', `${sum}  data/../../x.txt\n`))],
    ['lists an absolute path (5.1)', 'outside', bag(add('manifest-sha256.txt', `${sum}  /etc/passwd\n`))],
    ['lists a tag file as payload (2.1.3)', 'outside', bag(add('manifest-sha256.txt', `${sum}  bag-info.txt\n`))],
    ['lists a file twice (2.1.3)', 'listed-twice', bag(add('manifest-sha256.txt', `${sum}  data/27613-h/q172.txt\n`))],
    ['lists a file that is not there (3)', 'missing', bag(add('manifest-sha256.txt', `${sum}  data/gone.txt\n`))],
    [
      'has a file that is not listed (3)',
      'unlisted',
      (() => {
        const files = bag(drop('bag-info.txt'));
        files['data/more.txt'] = 'more';
        return files;
      })(),
    ],
    ['lists a file in one of two manifests (3)', 'unlisted', bag(set('manifest-sha512.txt', ''))],
    [
      'has a tag manifest that lists what is not there (3)',
      'tag-missing',
      (() => {
        const files = bag();
        return {
          ...files,
          'tagmanifest-sha256.txt': `${files['tagmanifest-sha256.txt'] as string}${sum}  notes.txt\n`,
        };
      })(),
    ],
    [
      'has a tag manifest that lists payload (2.2.1)',
      'tag-listed',
      (() => {
        const files = bag();
        return {
          ...files,
          'tagmanifest-sha256.txt': `${files['tagmanifest-sha256.txt'] as string}${sum}  data/27613-h/q172.txt\n`,
        };
      })(),
    ],
    [
      'has a tag manifest that leaves out a manifest (2.2.1)',
      'manifest-unlisted',
      bag(set('tagmanifest-sha256.txt', `${hash('sha256', DECLARATION)}  bagit.txt\n`)),
    ],
    ['is to be fetched from elsewhere (2.2.3)', 'holey', bag(set('fetch.txt', 'https://example.org/x 4 data/x.txt\n'))],
    ['has a line of its description without a label (2.2.2)', 'info', bag(add('bag-info.txt', 'no label here\n'))],
    ['says its size twice (2.2.2)', 'info', bag(add('bag-info.txt', 'Payload-Oxum: 4.1\n'))],
    ['says another size than it has (2.2.2)', 'size', bag(set('bag-info.txt', 'Payload-Oxum: 5.1\n'))],
    ['has a tag file that is no text (2.1.1)', 'tag-text', bag(set('bag-info.txt', new Uint8Array([0xc3, 0x28])))],
  ];
  it.each(breaks)('that %s is not complete: %s', (_, code, files) => {
    const bytesOnly = codes(files);
    expect(bytesOnly).toEqual([code]);
  });
});

describe('tag files', () => {
  it('are read as section 4.1 of the RFC shows them', () => {
    expect(readDeclaration(utf8.encode('BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n'))).toEqual({
      version: '1.0',
      encoding: 'UTF-8',
    });
    const line = `${hash('sha256', 'q172')} data/27613-h/images/q172.png\n`;
    expect(readManifest(line, 'sha256', '1.0').lines).toMatchObject([{ path: 'data/27613-h/images/q172.png' }]);
  });

  it('describe as section 2.2.2 shows it: labels that come again, values over several lines', () => {
    const text = `Source-Organization: FOO University
Organization-Address: 1 Main St., Cupertino, California, 11111
Contact-Name: Jane Doe
External-Description: Uncompressed greyscale TIFF images from the
  FOO papers colle...
Bag-Size: 260 GB
Payload-Oxum: 279164409832.1198
Bag-Count: 1 of 15
`;
    const { info, broken } = readBagInfo(text);
    expect(broken).toEqual([]);
    expect(infoValues(info, 'external-description')).toEqual([
      'Uncompressed greyscale TIFF images from the\nFOO papers colle...',
    ]);
    expect(readBagInfo(writeBagInfo(info)).info).toEqual(info);
  });

  it('encode line ends and percent signs of paths, and nothing else (2.1.3)', () => {
    expect(pathWritten('data/ð 100%\nof\r.jpg')).toBe('data/ð 100%25%0Aof%0D.jpg');
    const names = ['data/%0A.txt', 'data/a\nb.txt', 'data/a%25b.txt', 'data/  two  spaces.jpg'];
    const text = writeManifest(new Map(names.map((name) => [name, hash('sha256', name)])));
    expect(
      readManifest(text, 'sha256', '1.0')
        .lines.map(({ path }) => path)
        .sort(),
    ).toEqual([...names].sort());
  });
});

import { readFileSync } from 'node:fs';
import { beforeEach, describe, expect, it } from 'vitest';
import { MemoryDrive } from '../drives/memory-drive';
import { STRANGER_PAGE, writeStrangerPage } from './stranger-page';

let drive: MemoryDrive;
const page = () => new TextDecoder().decode(drive.files.get(STRANGER_PAGE)?.bytes);

beforeEach(() => {
  drive = new MemoryDrive();
});

describe('the page for strangers', () => {
  it('names every file that docs/FORMATS.md has in the folder', async () => {
    await writeStrangerPage(drive);
    const headings = readFileSync('docs/FORMATS.md', 'utf8').match(/^## `_wembo\/.*$/gm) ?? [];
    const names = headings.flatMap((heading) => heading.match(/[a-z][a-z0-9-]+(?:\.jsonl?|\/|-sha256\.txt)/g) ?? []);
    expect(names.length).toBeGreaterThan(20);
    for (const name of names.filter((one) => one !== 'wembo/')) expect(page()).toContain(`  ${name}`);
  });

  it('is plain text in lines that fit a screen', async () => {
    await writeStrangerPage(drive);
    for (const line of page().split('\n')) expect(line.length).toBeLessThanOrEqual(120);
  });

  it('is written over one of an earlier edition, and over nothing else', async () => {
    const put = (text: string) => drive.put(STRANGER_PAGE, new TextEncoder().encode(text));
    put('What this folder is — edition 0\nold');
    await writeStrangerPage(drive);
    expect(page()).toContain('sha256sum -c');
    for (const other of [`${page()}\nMy own note.`, 'something of mine', 'What this folder is — edition 99\n']) {
      put(other);
      await writeStrangerPage(drive);
      expect(page()).toBe(other);
    }
  });
});

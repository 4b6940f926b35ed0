// The manifest of a drive: the text format that `sha256sum` writes and checks (GNU coreutils manual, "md5sum
// invocation"): digest, blank, blank or `*`, name. A name with a backslash, newline or return is written with those
// escaped and the line begins with a backslash. Names are relative to the drive's root, with `/`.

export interface ManifestLine {
  path: string;
  sha256: string;
}

const LINE = /^(\\?)([0-9a-f]{64}) [ *](.+)$/;
const SPECIAL: Record<string, string> = { '\\': '\\\\', '\n': '\\n', '\r': '\\r' };

export function writeManifest(lines: ManifestLine[]): string {
  return lines
    .toSorted((a, b) => (a.path < b.path ? -1 : 1))
    .map(({ path, sha256 }) => {
      const escaped = path.replace(/[\\\n\r]/g, (character) => SPECIAL[character] ?? character);
      return `${escaped === path ? '' : '\\'}${sha256}  ${escaped}\n`;
    })
    .join('');
}

/** Lines that are not of the form are counted, not guessed at. */
export function parseManifest(text: string): { lines: ManifestLine[]; notUnderstood: number } {
  const lines: ManifestLine[] = [];
  let notUnderstood = 0;
  for (const line of text.split('\n')) {
    if (line === '') continue;
    const [, escaped, sha256, name] = LINE.exec(line) ?? [];
    if (sha256 === undefined || name === undefined) {
      notUnderstood += 1;
      continue;
    }
    const path = escaped ? name.replace(/\\(.)/g, (_, character: string) => ({ n: '\n', r: '\r' })[character] ?? character) : name;
    lines.push({ path, sha256 });
  }
  return { lines, notUnderstood };
}

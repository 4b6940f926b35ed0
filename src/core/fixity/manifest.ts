// The manifest of a drive: the text format that `sha256sum` writes and checks (GNU coreutils manual, "md5sum
// invocation"): digest, blank, blank or `*`, name. A name with a backslash, newline or return is written with those
// escaped and the line begins with a backslash. Names are relative to the drive's root, with `/`. Each file is named
// once (RFC 8493, 2.1.3).

export interface ManifestLine {
  path: string;
  sha256: string;
}

const LINE = /^(\\?)([0-9a-f]{64}) [ *](.+)$/;
const SPECIAL: Record<string, string> = { '\\': '\\\\', '\n': '\\n', '\r': '\\r' };

/** One line, with its end. */
export function manifestLine({ path, sha256 }: ManifestLine): string {
  const escaped = path.replace(/[\\\n\r]/g, (character) => SPECIAL[character] ?? character);
  return `${escaped === path ? '' : '\\'}${sha256}  ${escaped}\n`;
}

/** `null` for a line that is not of the form: nothing is guessed at. */
export function parseManifestLine(line: string): ManifestLine | null {
  const [, escaped, sha256, name] = LINE.exec(line) ?? [];
  if (sha256 === undefined || name === undefined) return null;
  return {
    path: escaped
      ? name.replace(/\\(.)/g, (_, character: string) => ({ n: '\n', r: '\r' })[character] ?? character)
      : name,
    sha256,
  };
}

// The tag files of a bag (RFC 8493): what stands in bagit.txt, manifests and bag-info.txt, read and written. What is
// written is version 1.0 in UTF-8; earlier versions from 0.93 on are read too.

/** By the names that manifests bear. */
export const BAG_ALGORITHMS = ['sha512', 'sha256', 'sha1', 'md5'] as const;
export type BagAlgorithm = (typeof BAG_ALGORITHMS)[number];
export const isBagAlgorithm = (name: string): name is BagAlgorithm =>
  (BAG_ALGORITHMS as readonly string[]).includes(name);
/** Hexadecimal digits of a checksum. */
export const CHECKSUM_LENGTH: Record<BagAlgorithm, number> = { sha512: 128, sha256: 64, sha1: 40, md5: 32 };

export const DECLARATION_FILE = 'bagit.txt';
export const INFO_FILE = 'bag-info.txt';
export const FETCH_FILE = 'fetch.txt';
export const PAYLOAD_FOLDER = 'data';

export const DECLARATION = 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n';

export interface BagDeclaration {
  /** Major and minor, as 0.97 or 1.0. */
  version: string;
  encoding: string;
}

/** `null` where it is not what section 2.1.1 asks for. @param bytes of bagit.txt, which is UTF-8 without a mark */
export function readDeclaration(bytes: Uint8Array): BagDeclaration | null {
  const text = decoded(bytes, 'utf-8');
  const found = /^BagIt-Version: (\d+\.\d+)\r?\n?\r?Tag-File-Character-Encoding: (\S+)\s*$/.exec(text ?? '');
  const [, version, encoding] = found ?? [];
  return version && encoding ? { version, encoding } : null;
}

export const isReadVersion = (version: string): boolean =>
  ['0.93', '0.94', '0.95', '0.96', '0.97', '1.0'].includes(version);

/** `null` where the bytes are not text in that encoding, or the encoding is unknown. A mark is kept: it is no part of UTF-8 here. */
export function decoded(bytes: Uint8Array, encoding: string): string | null {
  try {
    return new TextDecoder(encoding, { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    return null;
  }
}

/** Lines end with LF, CR or both. */
const linesOf = (text: string): string[] => text.split(/\r\n|\n|\r/);

export interface BagLine {
  checksum: string;
  path: string;
  /** From 1 on. */
  line: number;
}

export interface ReadManifest {
  lines: BagLine[];
  /** Numbers of lines that are not a checksum and a path. */
  broken: number[];
}

export function readManifest(text: string, algorithm: BagAlgorithm, version: string): ReadManifest {
  const read: ReadManifest = { lines: [], broken: [] };
  linesOf(text).forEach((content, index) => {
    if (content.trim() === '') return;
    const [, checksum, path] = /^([0-9A-Fa-f]+)[ \t]+(.+)$/.exec(content) ?? [];
    if (checksum?.length !== CHECKSUM_LENGTH[algorithm] || path === undefined) read.broken.push(index + 1);
    else read.lines.push({ checksum: checksum.toLowerCase(), path: pathRead(path, version), line: index + 1 });
  });
  return read;
}

export const writeManifest = (checksums: ReadonlyMap<string, string>): string =>
  [...checksums]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([path, checksum]) => `${checksum}  ${pathWritten(path)}\n`)
    .join('');

/** Section 2.1.3: of a path LF, CR and % are percent-encoded, and nothing else. */
export const pathWritten = (path: string): string =>
  path.replace(/[%\r\n]/g, (letter) => ({ '%': '%25', '\r': '%0D', '\n': '%0A' })[letter] ?? letter);

/** Before 1.0 the percent sign itself was left as it is. */
function pathRead(path: string, version: string): string {
  const encoded = version === '1.0' ? /%(?:25|0[AaDd])/g : /%0[AaDd]/g;
  return path.replace(encoded, (code) => decodeURIComponent(code));
}

/** A label and its value; labels may come again. */
export type BagInfo = (readonly [label: string, value: string])[];

export interface ReadBagInfo {
  info: BagInfo;
  broken: number[];
}

/** A line that begins with white space goes on with the value before it. */
export function readBagInfo(text: string): ReadBagInfo {
  const info: [string, string][] = [];
  const broken: number[] = [];
  linesOf(text).forEach((content, index) => {
    if (content.trim() === '') return;
    const last = info.at(-1);
    if (/^[ \t]/.test(content) && last) {
      last[1] += `\n${content.trim()}`;
      return;
    }
    const [, label, value] = /^([^\s:](?:[^:]*[^\s:])?)[ \t]*:[ \t]*(.*)$/.exec(content) ?? [];
    if (label === undefined || value === undefined) broken.push(index + 1);
    else info.push([label, value.trim()]);
  });
  return { info, broken };
}

export const writeBagInfo = (info: BagInfo): string =>
  info
    .map(([label, value]) => {
      const lines = linesOf(value)
        .map((line) => line.trim())
        .filter((line) => line !== '');
      return `${label}: ${lines.join('\n  ')}\n`;
    })
    .join('');

/** Values of a label, whose case says nothing. */
export const infoValues = (info: BagInfo, label: string): string[] =>
  info.flatMap(([name, value]) => (name.toLowerCase() === label.toLowerCase() ? [value] : []));

export interface PayloadSize {
  bytes: number;
  files: number;
}

export const writeOxum = ({ bytes, files }: PayloadSize): string => `${bytes}.${files}`;

export function readOxum(value: string): PayloadSize | null {
  const [, bytes, files] = /^(\d+)\.(\d+)$/.exec(value.trim()) ?? [];
  return bytes === undefined || files === undefined ? null : { bytes: Number(bytes), files: Number(files) };
}

// Whether a bag is complete (RFC 8493, section 3): every element that is required is there, every file that is listed is
// there, and every file of the payload is listed. Valid is a bag that is complete and whose files are read and are what
// their checksums say; those are read elsewhere, by what stands in `listed`. Folders are seen by their files alone: a bag
// whose payload is empty needs none.

import {
  BAG_ALGORITHMS,
  type BagAlgorithm,
  type BagInfo,
  DECLARATION_FILE,
  FETCH_FILE,
  INFO_FILE,
  PAYLOAD_FOLDER,
  decoded,
  infoValues,
  isBagAlgorithm,
  isReadVersion,
  readBagInfo,
  readDeclaration,
  readManifest,
  readOxum,
} from './tag-files';

export const BAG_FAULTS = [
  'no-declaration',
  'declaration',
  'version',
  'encoding',
  'tag-text',
  'holey',
  'no-manifest',
  'algorithm',
  'line',
  'outside',
  'listed-twice',
  'missing',
  'unlisted',
  'tag-missing',
  'tag-listed',
  'manifest-unlisted',
  'info',
  'size',
] as const;
export type BagFaultCode = (typeof BAG_FAULTS)[number];

export interface BagFault {
  code: BagFaultCode;
  /** Of the file it is about, or a manifest and its line. */
  path: string;
}

/** What a bag says that a file is, by each algorithm it was listed with. */
export interface ListedFile {
  path: string;
  isPayload: boolean;
  checksums: Map<BagAlgorithm, string>;
}

export interface BagCheck {
  version: string | null;
  info: BagInfo;
  /** Payload and tag files that are there and listed: to be read and held against their checksums. */
  listed: ListedFile[];
  payload: { bytes: number; files: number };
  faults: BagFault[];
}

/** A file of a bag, by its path from the folder of the bag on. */
export interface BagEntry {
  path: string;
  sizeBytes: number;
}

const isPayload = (path: string): boolean => path.startsWith(`${PAYLOAD_FOLDER}/`);

/** Tag files that say what is in a bag; their bytes are needed to check it. */
export const isBagTagFile = (path: string): boolean =>
  path === DECLARATION_FILE || path === INFO_FILE || path === FETCH_FILE || /^(?:tag)?manifest-[^/]+\.txt$/.test(path);

/**
 * @param entries all files of the bag
 * @param tagBytes of the files `isBagTagFile` names
 */
export function checkBag(entries: readonly BagEntry[], tagBytes: ReadonlyMap<string, Uint8Array>): BagCheck {
  return new BagReading(entries, tagBytes).check();
}

class BagReading {
  private readonly faults: BagFault[] = [];
  /** Of what several manifests may say alike: what was told. */
  private readonly told = new Set<string>();
  private readonly there: Map<string, string>;
  private encoding = 'UTF-8';
  private version = '1.0';

  constructor(
    private readonly entries: readonly BagEntry[],
    private readonly tagBytes: ReadonlyMap<string, Uint8Array>,
  ) {
    this.there = new Map(
      entries.flatMap(({ path }) => [[path.normalize('NFC'), path] as const, [path, path] as const]),
    );
  }

  check(): BagCheck {
    const payload = this.entries.filter(({ path }) => isPayload(path));
    const size = { bytes: payload.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0), files: payload.length };
    const result: BagCheck = { version: null, info: [], listed: [], payload: size, faults: this.faults };
    if (!this.declaration()) return result;
    result.version = this.version;
    // what is to be fetched from elsewhere is not here, and is not asked for
    if ((this.text(FETCH_FILE) ?? '').trim() !== '') {
      this.fault('holey', FETCH_FILE);
      return result;
    }
    result.info = this.info(size);
    const manifests = this.manifests('manifest-');
    if (manifests.length === 0) this.fault('no-manifest', '');
    const listed = new Map<string, ListedFile>();
    for (const { name, algorithm } of manifests) this.readPayloadManifest(name, algorithm, listed);
    this.holdUnlisted(payload, manifests.length, listed);
    const tagManifests = this.manifests('tagmanifest-');
    for (const { name, algorithm } of tagManifests) this.readTagManifest(name, algorithm, listed);
    result.listed = [...listed.values()].sort((a, b) => (a.path < b.path ? -1 : 1));
    return result;
  }

  private fault(code: BagFaultCode, path: string): void {
    this.faults.push({ code, path });
  }

  private declaration(): boolean {
    const bytes = this.tagBytes.get(DECLARATION_FILE);
    if (!bytes) return (this.fault('no-declaration', DECLARATION_FILE), false);
    const declared = readDeclaration(bytes);
    if (!declared) return (this.fault('declaration', DECLARATION_FILE), false);
    if (!isReadVersion(declared.version)) return (this.fault('version', DECLARATION_FILE), false);
    if (decoded(new Uint8Array(), declared.encoding) === null) return (this.fault('encoding', DECLARATION_FILE), false);
    this.encoding = declared.encoding;
    this.version = declared.version;
    return true;
  }

  private text(path: string): string | null {
    const bytes = this.tagBytes.get(path);
    if (!bytes) return null;
    const text = decoded(bytes, this.encoding);
    if (text === null) this.fault('tag-text', path);
    // some programs write a mark where their version did not forbid it
    return text?.replace(/^\uFEFF/, '') ?? null;
  }

  private info(size: { bytes: number; files: number }): BagInfo {
    const text = this.text(INFO_FILE);
    if (text === null) return [];
    const { info, broken } = readBagInfo(text);
    for (const line of broken) this.fault('info', `${INFO_FILE}, line ${line}`);
    const [oxum, ...more] = infoValues(info, 'Payload-Oxum');
    const stated = oxum === undefined ? null : readOxum(oxum);
    if (more.length > 0 || (oxum !== undefined && !stated)) this.fault('info', INFO_FILE);
    if (stated && (stated.bytes !== size.bytes || stated.files !== size.files)) this.fault('size', INFO_FILE);
    return info;
  }

  private manifests(prefix: 'manifest-' | 'tagmanifest-'): { name: string; algorithm: BagAlgorithm }[] {
    const found: { name: string; algorithm: BagAlgorithm }[] = [];
    for (const name of this.tagBytes.keys()) {
      if (!name.startsWith(prefix) || !name.endsWith('.txt')) continue;
      const algorithm = name.slice(prefix.length, -4);
      if (isBagAlgorithm(algorithm)) found.push({ name, algorithm });
      else this.faultOnce('algorithm', name);
    }
    return found.sort((a, b) => BAG_ALGORITHMS.indexOf(a.algorithm) - BAG_ALGORITHMS.indexOf(b.algorithm));
  }

  /** Calls with the path of each line that may stand there, as the file there is spelled; `null` where there is none. */
  private eachLine(
    name: string,
    algorithm: BagAlgorithm,
    call: (path: string, there: string | null, checksum: string) => void,
  ): void {
    const { lines, broken } = readManifest(this.text(name) ?? '', algorithm, this.version);
    for (const line of broken) this.fault('line', `${name}, line ${line}`);
    const seen = new Set<string>();
    for (const { path, checksum } of lines) {
      if (isOutside(path)) this.fault('outside', path);
      else if (seen.has(path)) this.fault('listed-twice', path);
      else call(path, this.there.get(path) ?? this.there.get(path.normalize('NFC')) ?? null, checksum);
      seen.add(path);
    }
  }

  private readPayloadManifest(name: string, algorithm: BagAlgorithm, listed: Map<string, ListedFile>): void {
    this.eachLine(name, algorithm, (path, there, checksum) => {
      if (!isPayload(path)) this.fault('outside', path);
      else if (there === null) this.faultOnce('missing', path);
      else note(listed, { path: there, isPayload: true }, algorithm, checksum);
    });
  }

  private readTagManifest(name: string, algorithm: BagAlgorithm, listed: Map<string, ListedFile>): void {
    const names = new Set<string>();
    this.eachLine(name, algorithm, (path, there, checksum) => {
      names.add(path);
      if (isPayload(path) || path.startsWith('tagmanifest-')) this.fault('tag-listed', path);
      else if (there === null) this.faultOnce('tag-missing', path);
      else note(listed, { path: there, isPayload: false }, algorithm, checksum);
    });
    for (const manifest of this.manifests('manifest-'))
      if (!names.has(manifest.name)) this.faultOnce('manifest-unlisted', manifest.name);
  }

  private faultOnce(code: BagFaultCode, path: string): void {
    if (this.told.has(`${code} ${path}`)) return;
    this.told.add(`${code} ${path}`);
    this.fault(code, path);
  }

  /** Since 1.0 each manifest lists the whole payload; before, one of them was enough for each file. */
  private holdUnlisted(payload: readonly BagEntry[], manifests: number, listed: ReadonlyMap<string, ListedFile>): void {
    if (manifests === 0) return;
    const needed = this.version === '1.0' ? manifests : 1;
    for (const { path } of payload) if ((listed.get(path)?.checksums.size ?? 0) < needed) this.fault('unlisted', path);
  }
}

function note(
  listed: Map<string, ListedFile>,
  file: Omit<ListedFile, 'checksums'>,
  algorithm: BagAlgorithm,
  checksum: string,
): void {
  const known = listed.get(file.path) ?? { ...file, checksums: new Map<BagAlgorithm, string>() };
  known.checksums.set(algorithm, checksum);
  listed.set(file.path, known);
}

/** Section 5.1: a path leads nowhere but into the bag. */
const isOutside = (path: string): boolean =>
  /^(?:[/\\~]|[A-Za-z]:)/.test(path) || path.split(/[/\\]/).some((part) => part === '..' || part === '.');

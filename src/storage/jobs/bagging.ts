// A bag (RFC 8493) of photos on a drive: each original with its sidecar and what lies beside it, read back and held
// against its measure; then the manifests, by what was read back; then what describes the bag. It is a bag only when all
// that was asked for is in it: until then it has no `bagit.txt`, and the job is taken up again where it was.

import {
  type BagInfo,
  DECLARATION,
  DECLARATION_FILE,
  INFO_FILE,
  PAYLOAD_FOLDER,
  writeBagInfo,
  writeManifest,
  writeOxum,
} from '@/core/bagit/tag-files';
import { payloadPaths } from '@/core/bagit/payload';
import { captionsTable } from '@/core/send-out/captions-table';
import { foldName, joinedPath, nameIn, pathBeside } from '@/core/names/file-names';
import { asideOf } from '@/core/names/set-aside';
import { sameBytes } from '@/core/bytes/join';
import { json } from '../archive/archive-files';
import { pathToBe } from '../catalog/changes';
import { fileDamaged } from '../catalog/photos';
import type { BagAsked, FileRecord, JobReport, PhotoRecord } from '../catalog/records';
import { isUpToDate } from '../catalog/sidecars';
import { BesideFiles } from '../drives/beside-files';
import { type Drive, DriveError, type OpenedFile } from '../drives/drive';
import { openIfThere, readIfThere, replaceFile } from '../drives/safe-write';
import { MADE_HERE, isMadeHere } from './bags-made-here';
import { type JobTools, forEachItem, itemProblemOf, startProgress } from './job-tools';

export type BagReport = JobReport & { kind: 'bag' };

export interface BagOrder {
  asked: BagAsked;
  photoIds: readonly string[];
  target: Drive;
  driveOf: (driveId: string) => Drive | null;
  /** ISO date of today, by the person's calendar. */
  day: string;
}

const TABLE_FILE = 'metadata/photos.csv';
const RECORDS_FILE = 'metadata/photos.json';

interface Payload {
  photo: PhotoRecord;
  file: FileRecord;
  /** Within the bag. */
  path: string;
  /** Its sidecar and what bears its base name: by the path on its drive, and within the bag. */
  beside: { from: string; path: string }[];
}

/** @throws DriveError `exists` where something else lies there already */
export async function makeBag(tools: JobTools, order: BagOrder): Promise<BagReport> {
  const { control } = tools;
  const { asked, target } = order;
  const report: BagReport = {
    kind: 'bag',
    folder: asked.folder,
    photos: 0,
    files: 0,
    bytes: 0,
    finished: false,
    away: [],
    damaged: [],
    problems: [],
  };
  control.reporting(report);
  await target.confirm();
  const bag = new BagInMaking(tools, order, report);
  const payload = await bag.plan();
  await bag.holdPlace();
  const progress = startProgress(
    'copying',
    payload.length,
    2 * payload.reduce((sum, { file }) => sum + file.sizeBytes, 0),
  );
  control.progress({ ...progress });
  await forEachItem(
    payload,
    control,
    async (one) => {
      await bag.place(one, (bytes) => {
        progress.doneBytes += bytes;
        control.progress({ ...progress });
      });
      progress.doneItems += 1;
      control.progress({ ...progress });
    },
    ({ file }, error) => report.problems.push(itemProblemOf(file.path, error)),
  );
  if (report.away.length + report.damaged.length + report.problems.length > 0) return report;
  control.progress(startProgress('finishing'));
  await bag.finish(payload);
  report.finished = true;
  return report;
}

class BagInMaking {
  /** Checksums of the payload by its paths in the bag. */
  private readonly checksums = new Map<string, string>();
  private readonly sizes = new Map<string, number>();

  constructor(
    private readonly tools: JobTools,
    private readonly order: BagOrder,
    private readonly report: BagReport,
  ) {}

  private inBag(path: string): string {
    return joinedPath(this.order.asked.folder, path);
  }

  /** Of each photo a sound file on a drive that is here: one whose sidecar says all, then the one that was read last. */
  async plan(): Promise<Payload[]> {
    const { db } = this.tools;
    const chosen: { photo: PhotoRecord; file: FileRecord }[] = [];
    for (const id of this.order.photoIds) {
      const photo = await db.photos.get(id);
      if (!photo) continue;
      const files = (await db.files.where('photoId').equals(id).toArray()).filter(
        (file) => asideOf(pathToBe(file)) === null && file.state !== 'missing',
      );
      const here = files.filter(({ driveId }) => this.order.driveOf(driveId) !== null);
      const saysAll = (file: FileRecord) => Number(isUpToDate(file, photo));
      const [file] = here
        .filter(({ state }) => state === 'present')
        .sort((a, b) => saysAll(b) - saysAll(a) || (b.verifiedAt ?? 0) - (a.verifiedAt ?? 0) || (a.id < b.id ? -1 : 1));
      if (file) chosen.push({ photo, file });
      else if (here[0]) this.report.damaged.push(here[0].path);
      else this.report.away.push(files[0]?.path ?? id);
    }
    return this.withBeside(chosen);
  }

  /** One after the other, so that an attempt taken up again gives the same names. */
  private async withBeside(chosen: readonly { photo: PhotoRecord; file: FileRecord }[]): Promise<Payload[]> {
    const paths = payloadPaths(chosen.map(({ file }) => file));
    const given = new Set([...paths.values()].map(foldName));
    const beside = new Map<string, BesideFiles>();
    const going = new Set<string>();
    const payload: Payload[] = [];
    for (const { photo, file } of chosen) {
      const path = paths.get(file.id) ?? file.path;
      const source = this.order.driveOf(file.driveId);
      const files = source && (beside.get(file.driveId) ?? new BesideFiles(source));
      if (files) beside.set(file.driveId, files);
      const one: Payload = { photo, file, path, beside: [] };
      for (const from of [...((await files?.of(file.path)) ?? []), ...(file.sidecar ? [file.sidecar.path] : [])]) {
        // a spoken note of a raw and its JPEG goes once
        if (going.has(`${file.driveId}/${from}`)) continue;
        going.add(`${file.driveId}/${from}`);
        const wanted = pathBeside(from, file.path, path);
        const free = given.has(foldName(wanted)) ? `${path}.${nameIn(from)}` : wanted;
        given.add(foldName(free));
        one.beside.push({ from, path: free });
      }
      payload.push(one);
    }
    return payload;
  }

  /**
   * The folder is new, or has what an attempt that broke off left there. It says from now on that it is made here; what
   * is not of this bag is met when it is finished.
   */
  async holdPlace(): Promise<void> {
    const { asked, target } = this.order;
    const isBegun = await isMadeHere(target, asked.folder);
    for await (const { path } of target.list({ below: asked.folder, signal: this.tools.control.signal }))
      if (!isBegun || path === this.inBag(DECLARATION_FILE)) throw new DriveError('exists', path);
    await this.writeTag(this.inBag(INFO_FILE), writeBagInfo(this.info(false)));
  }

  async place({ photo, file, path, beside }: Payload, onBytes: (bytes: number) => void): Promise<void> {
    const { db } = this.tools;
    const source = this.order.driveOf(file.driveId);
    if (!source) throw new DriveError('source-gone', file.path);
    // what was written about it and is on no sidecar yet would be left behind
    const [now, said] = [await db.files.get(file.id), await db.photos.get(photo.id)];
    if (now?.path !== file.path || !said || !isUpToDate(now, said)) throw new DriveError('words-wait', file.path);
    const opened = await source.open(file.path);
    await this.copy(path, opened, file.path, file.sha256, onBytes).catch(async (error: unknown) => {
      if (!(error instanceof DriveError && error.problem === 'source-damaged')) throw error;
      await source.confirm();
      await fileDamaged(db, file.id, seenIn(opened), null, this.tools.now());
      throw error;
    });
    for (const { from, path: to } of beside) {
      const there = await openIfThere(source, from);
      if (there) await this.copy(to, there, from, null, onBytes);
    }
    this.report.photos += 1;
  }

  private async copy(
    path: string,
    file: OpenedFile,
    name: string,
    expected: string | null,
    onBytes: (bytes: number) => void,
  ): Promise<void> {
    const { fileTasks, control } = this.tools;
    const { target, asked } = this.order;
    const to = this.inBag(path);
    const copy = await fileTasks.copy({ drive: target, path: to, file, name, expected }, onBytes, control.signal);
    // another file has the name: nothing of it is written over, and it is no part of this bag
    if (copy.path !== to) throw new DriveError('exists', to);
    const placed = await target.open(to);
    const checksum = asked.algorithm === 'sha256' ? copy.sha256 : await this.checksumOf(placed);
    this.checksums.set(path, checksum);
    this.sizes.set(path, placed.size);
    this.report.files += 1;
    this.report.bytes += placed.size;
  }

  /** What describes it first, then what lists it, and last of all what makes it a bag. */
  async finish(payload: readonly Payload[]): Promise<void> {
    const { algorithm } = this.order.asked;
    await this.holdPayload();
    const tags = new Map<string, string>([
      [INFO_FILE, writeBagInfo(this.info(true))],
      [TABLE_FILE, captionsTable(payload.map(({ path, photo }) => ({ name: path, fields: photo.fields })))],
      [RECORDS_FILE, json({ format: 'wembo-bag-photos', version: 1, photos: payload.map(recordOf) })],
      [`manifest-${algorithm}.txt`, writeManifest(this.checksums)],
    ]);
    const checksums = new Map<string, string>();
    for (const [path, text] of [...tags, [DECLARATION_FILE, DECLARATION] as const])
      checksums.set(path, await this.checksumOf(new File([text], path)));
    tags.set(`tagmanifest-${algorithm}.txt`, writeManifest(checksums));
    tags.set(DECLARATION_FILE, DECLARATION);
    for (const [path, text] of tags) await this.writeTag(this.inBag(path), text);
  }

  /** Nothing lies in the payload but what was placed there, as long as it was then. */
  private async holdPayload(): Promise<void> {
    const { asked, target } = this.order;
    const left = new Map(this.sizes);
    for await (const { path, sizeBytes } of target.list({ below: this.inBag(PAYLOAD_FOLDER) })) {
      const inside = path.slice(asked.folder.length + 1);
      if (left.get(inside) !== sizeBytes) throw new DriveError('exists', path);
      left.delete(inside);
    }
    for (const path of left.keys()) throw new DriveError('not-found', this.inBag(path));
  }

  private async writeTag(path: string, text: string): Promise<void> {
    const { target } = this.order;
    this.tools.control.signal.throwIfAborted();
    await target.confirm();
    const there = await readIfThere(target, path);
    const bytes = new TextEncoder().encode(text);
    if (!there || !sameBytes(there, bytes)) await replaceFile(target, path, bytes, there);
  }

  private async checksumOf(file: OpenedFile): Promise<string> {
    const { algorithm } = this.order.asked;
    const { signal } = this.tools.control;
    const found = await this.tools.fileTasks.checksums(file, [algorithm], () => undefined, signal);
    return found[algorithm] ?? '';
  }

  private info(isWhole: boolean): BagInfo {
    const { asked, day } = this.order;
    const bytes = [...this.sizes.values()].reduce((sum, size) => sum + size, 0);
    const said: BagInfo = [
      ['Source-Organization', asked.organization],
      ['Contact-Name', asked.contact],
      ['External-Description', asked.description],
      ['External-Identifier', asked.name],
    ];
    return [
      ...said.filter(([, value]) => value.trim() !== ''),
      ['Bagging-Date', day],
      ...(isWhole ? [['Payload-Oxum', writeOxum({ bytes, files: this.sizes.size })] as const] : []),
      MADE_HERE,
    ];
  }
}

const seenIn = ({ size, lastModified }: OpenedFile) => ({ sizeBytes: size, modifiedMs: lastModified });

const recordOf = ({ path, photo, file }: Payload) => ({
  path,
  photo: photo.id,
  sha256: file.sha256,
  imageSha256: file.imageSha256,
  fields: photo.fields,
});

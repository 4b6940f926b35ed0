// The calls of the S3 REST API (version 2006-03-01) that a store of photos needs, and that every S3-compatible store
// has. What is sent bears its MD5 (Content-MD5) and its SHA-256 (in the signature), which stores hold the bytes against;
// their answer, the ETag, is held against the MD5 again. Keys here are whole keys of the bucket.

import { createHash } from 'node:crypto';
import {
  AbortMultipartUploadCommand,
  CompleteMultipartUploadCommand,
  CopyObjectCommand,
  CreateMultipartUploadCommand,
  DeleteObjectCommand,
  GetObjectCommand,
  HeadObjectCommand,
  ListMultipartUploadsCommand,
  ListObjectsV2Command,
  ListPartsCommand,
  PutObjectCommand,
  S3Client,
  UploadPartCommand,
  UploadPartCopyCommand,
} from '@aws-sdk/client-s3';
import { DriveError, type DriveProblem } from '@/storage/drives/drive';
import type { StorePlace } from './place';

/** Sent at a time. S3 wants 5 MiB of every part but the last, and takes 10,000 of them: files up to 156 GiB. */
export const PART_BYTES = 16 * 1024 * 1024;
const CONNECT_MS = 10_000;
/** A store that says nothing for so long is not waited for. */
const SILENCE_MS = 60_000;
const ATTEMPTS = 3;

export interface StoredObject {
  key: string;
  sizeBytes: number;
  /**
   * When it was stored. Stores tell whole seconds; the milliseconds are taken from the ETag, so that other bytes are
   * another time.
   */
  modifiedMs: number;
  etag: string;
}

export interface SentPart {
  number: number;
  etag: string;
  sizeBytes: number;
}

/** What was begun to be sent in parts and did not come to its end. */
export interface PendingUpload {
  key: string;
  id: string;
  begunMs: number;
}

export const md5Of = (bytes: Uint8Array): string => createHash('md5').update(bytes).digest('hex');
const base64Md5 = (hex: string): string => Buffer.from(hex, 'hex').toString('base64');

const bare = (etag: string | undefined): string => (etag ?? '').replaceAll('"', '');
/** An ETag that is an MD5: of the bytes, or of the MD5s of so many parts. Stores that encrypt have others. */
const MD5_ETAG = /^[0-9a-f]{32}(-\d+)?$/;

function timeOf(stored: Date | undefined, etag: string): number {
  const seconds = Math.floor((stored?.getTime() ?? 0) / 1000);
  return seconds * 1000 + (parseInt(md5Of(Buffer.from(etag)).slice(0, 8), 16) % 1000);
}

const clients = new Map<string, S3Client>();

/** One for all drives of a place: its connections stay open. */
function clientOf({ endpoint, region, accessKeyId, secretAccessKey }: StorePlace): S3Client {
  const key = JSON.stringify([endpoint, region, accessKeyId, secretAccessKey]);
  const known = clients.get(key);
  if (known) return known;
  const client = new S3Client({
    endpoint,
    region,
    credentials: { accessKeyId, secretAccessKey },
    forcePathStyle: true,
    // what not every store knows is left out; Content-MD5 is checked by all
    requestChecksumCalculation: 'WHEN_REQUIRED',
    responseChecksumValidation: 'WHEN_REQUIRED',
    maxAttempts: ATTEMPTS,
    requestHandler: { connectionTimeout: CONNECT_MS, socketTimeout: SILENCE_MS, requestTimeout: SILENCE_MS },
  });
  clients.set(key, client);
  return client;
}

export class Store {
  private readonly client: S3Client;
  private readonly bucket: string;

  constructor(readonly place: StorePlace) {
    this.client = clientOf(place);
    this.bucket = place.bucket;
  }

  /** Its objects in the order of their keys; with `delimiter` only those of that folder itself. */
  async *list(prefix: string, isShallow = false): AsyncGenerator<StoredObject> {
    for (let token: string | undefined; ;) {
      const page = await this.asked('', () =>
        this.client.send(
          new ListObjectsV2Command({
            Bucket: this.bucket,
            Prefix: prefix,
            ...(isShallow && { Delimiter: '/' }),
            ...(token !== undefined && { ContinuationToken: token }),
          }),
        ),
      );
      for (const { Key: key = '', Size: sizeBytes = 0, LastModified, ETag } of page.Contents ?? [])
        yield { key, sizeBytes, modifiedMs: timeOf(LastModified, bare(ETag)), etag: bare(ETag) };
      token = page.NextContinuationToken;
      if (!page.IsTruncated || token === undefined) return;
    }
  }

  /** Rejects with `not-found`. */
  async head(key: string): Promise<StoredObject> {
    const {
      ContentLength: sizeBytes = 0,
      LastModified,
      ETag,
    } = await this.asked(key, () => this.client.send(new HeadObjectCommand({ Bucket: this.bucket, Key: key })));
    return { key, sizeBytes, modifiedMs: timeOf(LastModified, bare(ETag)), etag: bare(ETag) };
  }

  async headIfThere(key: string): Promise<StoredObject | null> {
    try {
      return await this.head(key);
    } catch (error) {
      if (error instanceof DriveError && error.problem === 'not-found') return null;
      throw error;
    }
  }

  /**
   * Bytes of an object, as long as it is the one that is meant. Rejects with `changed-meanwhile` where it is another by
   * now.
   */
  async read(
    meant: Pick<StoredObject, 'key' | 'sizeBytes' | 'modifiedMs'>,
    start: number,
    end: number,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const { key } = meant;
    return this.asked(key, async () => {
      const { Body, ContentRange, ContentLength, LastModified, ETag } = await this.client.send(
        new GetObjectCommand({ Bucket: this.bucket, Key: key, Range: `bytes=${start}-${end - 1}` }),
      );
      const sizeBytes = Number(ContentRange?.split('/')[1] ?? ContentLength);
      if (sizeBytes !== meant.sizeBytes || timeOf(LastModified, bare(ETag)) !== meant.modifiedMs)
        throw new DriveError('changed-meanwhile', key);
      const bytes = (await Body?.transformToByteArray()) ?? new Uint8Array();
      // one that does not know ranges sends all of it
      const part = ContentRange === undefined ? bytes.subarray(start, end) : bytes;
      if (part.length !== end - start) throw new DriveError('store-silent', key);
      return new Uint8Array(part);
    });
  }

  async put(key: string, bytes: Uint8Array): Promise<void> {
    const md5 = md5Of(bytes);
    const { ETag } = await this.asked(key, () =>
      this.client.send(
        new PutObjectCommand({ Bucket: this.bucket, Key: key, Body: bytes, ContentMD5: base64Md5(md5) }),
      ),
    );
    heldAgainst(md5, bare(ETag), key);
  }

  async remove(key: string): Promise<void> {
    await this.asked(key, () => this.client.send(new DeleteObjectCommand({ Bucket: this.bucket, Key: key })));
  }

  /** The store copies within itself. What is there of that name is replaced. */
  async copy(from: StoredObject, to: string): Promise<void> {
    if (from.etag.includes('-') || from.sizeBytes > PART_BYTES) await this.copyInParts(from, to);
    else
      await this.asked(to, () =>
        this.client.send(
          new CopyObjectCommand({
            Bucket: this.bucket,
            Key: to,
            CopySource: this.sourceOf(from.key),
            CopySourceIfMatch: `"${from.etag}"`,
          }),
        ),
      );
    const made = await this.head(to);
    if (!(await this.isSame(from, made))) throw new DriveError('read-back-differs', to);
  }

  private sourceOf(key: string): string {
    return `${this.bucket}/${key.split('/').map(encodeURIComponent).join('/')}`;
  }

  private async copyInParts(from: StoredObject, to: string): Promise<void> {
    const id = await this.begin(to);
    try {
      const parts: SentPart[] = [];
      for (let start = 0; start < from.sizeBytes; start += PART_BYTES) {
        const number = parts.length + 1;
        const end = Math.min(from.sizeBytes, start + PART_BYTES);
        const { CopyPartResult } = await this.asked(to, () =>
          this.client.send(
            new UploadPartCopyCommand({
              Bucket: this.bucket,
              Key: to,
              UploadId: id,
              PartNumber: number,
              CopySource: this.sourceOf(from.key),
              CopySourceIfMatch: `"${from.etag}"`,
              CopySourceRange: `bytes=${start}-${end - 1}`,
            }),
          ),
        );
        parts.push({ number, etag: bare(CopyPartResult?.ETag), sizeBytes: end - start });
      }
      await this.complete(to, id, parts);
    } catch (error) {
      await this.abort(to, id).catch(() => undefined);
      throw error;
    }
  }

  /** Whether two objects have the same bytes: read in full, where the ETags do not tell. */
  async isSame(one: StoredObject, other: StoredObject): Promise<boolean> {
    if (one.sizeBytes !== other.sizeBytes) return false;
    if (one.etag === other.etag) return true;
    for (let start = 0; start < one.sizeBytes; start += PART_BYTES) {
      const end = Math.min(one.sizeBytes, start + PART_BYTES);
      const [a, b] = await Promise.all([this.read(one, start, end), this.read(other, start, end)]);
      if (Buffer.compare(a, b) !== 0) return false;
    }
    return true;
  }

  /** What is to be sent in parts. */
  async begin(key: string): Promise<string> {
    const { UploadId } = await this.asked(key, () =>
      this.client.send(new CreateMultipartUploadCommand({ Bucket: this.bucket, Key: key })),
    );
    if (!UploadId) throw new DriveError('store-silent', key);
    return UploadId;
  }

  async putPart(key: string, id: string, number: number, bytes: Uint8Array): Promise<SentPart> {
    const md5 = md5Of(bytes);
    const { ETag } = await this.asked(key, () =>
      this.client.send(
        new UploadPartCommand({
          Bucket: this.bucket,
          Key: key,
          UploadId: id,
          PartNumber: number,
          Body: bytes,
          ContentMD5: base64Md5(md5),
        }),
      ),
    );
    heldAgainst(md5, bare(ETag), key);
    return { number, etag: bare(ETag), sizeBytes: bytes.length };
  }

  async complete(key: string, id: string, parts: readonly SentPart[]): Promise<void> {
    await this.asked(key, () =>
      this.client.send(
        new CompleteMultipartUploadCommand({
          Bucket: this.bucket,
          Key: key,
          UploadId: id,
          MultipartUpload: { Parts: parts.map(({ number, etag }) => ({ PartNumber: number, ETag: `"${etag}"` })) },
        }),
      ),
    );
  }

  async abort(key: string, id: string): Promise<void> {
    await this.asked(key, () =>
      this.client.send(new AbortMultipartUploadCommand({ Bucket: this.bucket, Key: key, UploadId: id })),
    );
  }

  /** Uploads that were begun and not ended. A store that does not tell them has none. */
  async pending(prefix: string): Promise<PendingUpload[]> {
    try {
      const { Uploads = [] } = await this.asked('', () =>
        this.client.send(new ListMultipartUploadsCommand({ Bucket: this.bucket, Prefix: prefix })),
      );
      return Uploads.flatMap(({ Key: key, UploadId: id, Initiated }) =>
        key && id ? [{ key, id, begunMs: Initiated?.getTime() ?? 0 }] : [],
      );
    } catch (error) {
      if (error instanceof DriveError && error.problem === 'failed') return [];
      throw error;
    }
  }

  /** Parts of an upload that the store has already; none where it does not tell them. */
  async partsOf({ key, id }: PendingUpload): Promise<SentPart[]> {
    const parts: SentPart[] = [];
    try {
      for (let after: string | undefined; ;) {
        const page = await this.asked(key, () =>
          this.client.send(
            new ListPartsCommand({
              Bucket: this.bucket,
              Key: key,
              UploadId: id,
              ...(after !== undefined && { PartNumberMarker: after }),
            }),
          ),
        );
        for (const { PartNumber: number, ETag, Size } of page.Parts ?? [])
          if (number) parts.push({ number, etag: bare(ETag), sizeBytes: Size ?? 0 });
        after = page.NextPartNumberMarker;
        if (!page.IsTruncated || after === undefined) return parts;
      }
    } catch {
      return [];
    }
  }

  private async asked<T>(key: string, ask: () => Promise<T>): Promise<T> {
    try {
      return await ask();
    } catch (error) {
      throw error instanceof DriveError ? error : new DriveError(problemOf(error), key, { cause: error });
    }
  }
}

/** What the store says it has, against what was sent. */
function heldAgainst(md5: string, etag: string, key: string): void {
  if (MD5_ETAG.test(etag) && etag !== md5) throw new DriveError('read-back-differs', key);
}

/** By the error codes of S3; by the status where a store has codes of its own. */
const PROBLEMS: Record<string, DriveProblem> = {
  NoSuchKey: 'not-found',
  NotFound: 'not-found',
  NoSuchUpload: 'not-found',
  NoSuchBucket: 'no-bucket',
  AccessDenied: 'store-refuses',
  Forbidden: 'store-refuses',
  InvalidAccessKeyId: 'store-refuses',
  SignatureDoesNotMatch: 'store-refuses',
  RequestTimeTooSkewed: 'store-refuses',
  PreconditionFailed: 'changed-meanwhile',
  KeyTooLongError: 'bad-name',
  BadDigest: 'read-back-differs',
  XAmzContentSHA256Mismatch: 'read-back-differs',
  QuotaExceeded: 'full',
  EntityTooLarge: 'full',
  InsufficientStorage: 'full',
};
const BY_STATUS: Record<number, DriveProblem> = {
  401: 'store-refuses',
  403: 'store-refuses',
  404: 'not-found',
  412: 'changed-meanwhile',
  507: 'full',
};

function problemOf(error: unknown): DriveProblem {
  const { name = '', $metadata } = error as { name?: string; $metadata?: { httpStatusCode?: number } };
  const status = $metadata?.httpStatusCode;
  // no status: nothing came back
  return PROBLEMS[name] ?? (status === undefined || status >= 500 ? 'store-silent' : (BY_STATUS[status] ?? 'failed'));
}

// A stand-in for a store elsewhere: as much of the S3 REST API (version 2006-03-01) as an archive asks for, over a
// folder of this machine, for one bucket and one pair of keys. It is as strict as real ones: signatures (AWS Signature
// Version 4), Content-MD5, the SHA-256 that was signed, ETags of parts, If-Match. For the demo and the tests; bound to
// this machine, and no place to keep anything.

import { createHash, createHmac, randomUUID, timingSafeEqual } from 'node:crypto';
import fs from 'node:fs';
import { type IncomingMessage, type Server, type ServerResponse, createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';

export interface StandInKeys {
  bucket: string;
  accessKeyId: string;
  secretAccessKey: string;
}

/** What a test makes it do instead of answering. */
export type Trouble = 'no-answer' | 'busy' | 'cut-short' | 'other-bytes' | 'forgets';

interface Stored {
  key: string;
  etag: string;
  sizeBytes: number;
  modifiedMs: number;
}

interface Upload {
  key: string;
  begunMs: number;
  parts: Map<number, { etag: string; bytes: number }>;
}

interface Asked {
  method: string;
  key: string;
  query: URLSearchParams;
  headers: IncomingMessage['headers'];
  body: Buffer;
}

class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
  ) {
    super(code);
  }
}

interface Reply {
  status: number;
  headers?: Record<string, string>;
  body?: Buffer | string;
}

const BODY_LIMIT_BYTES = 64 * 1024 * 1024;
const PAGE_KEYS = 1000;
/** S3: every part but the last. */
const PART_LEAST_BYTES = 5 * 1024 * 1024;
/** S3: how far the clocks may be apart. */
const SKEW_MS = 15 * 60 * 1000;

const hex = (kind: 'md5' | 'sha256', bytes: Buffer | string): string => createHash(kind).update(bytes).digest('hex');
const hmac = (key: Buffer | string, text: string): Buffer => createHmac('sha256', key).update(text).digest();
const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', '\r': '&#13;' };
const escaped = (text: string): string => text.replace(/[&<>"\r]/g, (letter) => ENTITIES[letter] ?? letter);
/** RFC 3986, as Signature Version 4 wants it. */
const encoded = (text: string): string =>
  encodeURIComponent(text).replace(/[!'()*]/g, (letter) => `%${letter.charCodeAt(0).toString(16).toUpperCase()}`);
const xml = (root: string, inner: string): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n<${root} xmlns="http://s3.amazonaws.com/doc/2006-03-01/">${inner}</${root}>`;
const tag = (name: string, value: string | number | boolean): string => `<${name}>${escaped(String(value))}</${name}>`;
const xmlReply = (root: string, inner: string): Reply => ({
  status: 200,
  headers: { 'content-type': 'application/xml' },
  body: xml(root, inner),
});

export class StoreStandIn {
  /** Each request that was answered, as `METHOD key?query`. */
  readonly asked: string[] = [];
  trouble: (asked: Pick<Asked, 'method' | 'key' | 'query'>) => Trouble | null = () => null;
  private readonly objects = new Map<string, Stored>();
  private readonly uploads = new Map<string, Upload>();
  private server: Server | null = null;

  constructor(
    private readonly folder: string,
    private readonly keys: StandInKeys,
  ) {
    for (const name of ['objects', 'parts']) fs.mkdirSync(path.join(folder, name), { recursive: true });
    for (const name of fs.readdirSync(path.join(folder, 'objects')))
      if (name.endsWith('.json')) {
        const stored = JSON.parse(fs.readFileSync(path.join(folder, 'objects', name), 'utf8')) as Stored;
        this.objects.set(stored.key, stored);
      }
  }

  /** @param port 0: any that is free. Answers with where it is reached */
  async start(port = 0): Promise<string> {
    this.server = createServer((request, response) => void this.answer(request, response));
    await new Promise<void>((resolve) => this.server?.listen(port, '127.0.0.1', resolve));
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  async stop(): Promise<void> {
    this.server?.closeAllConnections();
    await new Promise((resolve) => this.server?.close(resolve));
  }

  /** All keys, in their order. */
  get contents(): string[] {
    return [...this.objects.keys()].sort((a, b) => Buffer.compare(Buffer.from(a), Buffer.from(b)));
  }

  bytesOf(key: string): Buffer {
    return fs.readFileSync(this.fileOf(key));
  }

  /** As somebody else's program would: no signature asked, and no ETag that tells of it where `etag` is named. */
  put(key: string, bytes: Buffer, etag = hex('md5', bytes)): Stored {
    const stored = { key, etag, sizeBytes: bytes.length, modifiedMs: Date.now() };
    fs.writeFileSync(this.fileOf(key), bytes);
    fs.writeFileSync(`${this.fileOf(key)}.json`, JSON.stringify(stored));
    this.objects.set(key, stored);
    return stored;
  }

  /** Bytes rot, and nothing in the store tells of it. */
  rot(key: string, at: number): void {
    const bytes = this.bytesOf(key);
    bytes.writeUInt8(bytes.readUInt8(at) ^ 1, at);
    fs.writeFileSync(this.fileOf(key), bytes);
  }

  remove(key: string): void {
    this.objects.delete(key);
    fs.rmSync(this.fileOf(key), { force: true });
    fs.rmSync(`${this.fileOf(key)}.json`, { force: true });
  }

  private fileOf(key: string): string {
    return path.join(this.folder, 'objects', hex('sha256', key));
  }

  private partFile(id: string, number: number): string {
    return path.join(this.folder, 'parts', `${id}-${number}`);
  }

  private async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    let reply: Reply;
    try {
      const asked = await readAsked(request, this.keys);
      const trouble = this.trouble(asked);
      if (trouble === 'no-answer') return void request.socket.destroy();
      if (trouble === 'busy') throw new Refusal(503, 'SlowDown');
      this.asked.push(`${asked.method} ${asked.key}?${asked.query.toString()}`);
      reply = this.replyTo(asked);
      if (trouble === 'forgets' && reply.status === 200) this.remove(asked.key);
      if (trouble === 'other-bytes' && Buffer.isBuffer(reply.body))
        reply.body = Buffer.from(reply.body.map((b) => b ^ 1));
      if (trouble === 'cut-short' && Buffer.isBuffer(reply.body)) {
        response.writeHead(reply.status, { ...reply.headers, 'content-length': reply.body.length });
        response.write(reply.body.subarray(0, reply.body.length >> 1));
        return void setTimeout(() => request.socket.destroy(), 20);
      }
    } catch (error) {
      const { status, code } = error instanceof Refusal ? error : new Refusal(500, 'InternalError');
      reply = { status, headers: { 'content-type': 'application/xml' }, body: xml('Error', tag('Code', code)) };
    }
    const body = Buffer.from(reply.body ?? '');
    response.writeHead(reply.status, { 'content-length': body.length, ...reply.headers });
    response.end(request.method === 'HEAD' ? undefined : body);
  }

  private replyTo(asked: Asked): Reply {
    const { method, key, query } = asked;
    const uploadId = query.get('uploadId');
    if (key === '') {
      if (method === 'GET') return query.has('uploads') ? this.listUploads(query) : this.list(query);
      if (method === 'HEAD') return { status: 200 };
    } else if (uploadId !== null) {
      if (method === 'PUT') return this.putPart(asked, uploadId);
      if (method === 'POST') return this.complete(asked, uploadId);
      if (method === 'GET') return this.listParts(key, uploadId);
      if (method === 'DELETE') return this.abort(key, uploadId);
    } else {
      if (method === 'POST' && query.has('uploads')) return this.begin(key);
      if (method === 'PUT') return this.putObject(asked);
      if (method === 'GET' || method === 'HEAD') return this.get(asked);
      if (method === 'DELETE') {
        this.remove(key);
        return { status: 204 };
      }
    }
    throw new Refusal(501, 'NotImplemented');
  }

  private found(key: string): Stored {
    const stored = this.objects.get(key);
    if (!stored) throw new Refusal(404, 'NoSuchKey');
    return stored;
  }

  private list(query: URLSearchParams): Reply {
    const prefix = query.get('prefix') ?? '';
    const delimiter = query.get('delimiter') ?? '';
    const after = query.get('continuation-token') ?? query.get('start-after') ?? '';
    const limit = Math.min(PAGE_KEYS, Number(query.get('max-keys') ?? PAGE_KEYS));
    const isAfter = (text: string) => Buffer.compare(Buffer.from(text), Buffer.from(after)) > 0;
    const names = new Map<string, Stored | null>();
    for (const key of this.contents) {
      if (!key.startsWith(prefix)) continue;
      const end = delimiter === '' ? -1 : key.indexOf(delimiter, prefix.length);
      const name = end < 0 ? key : key.slice(0, end + delimiter.length);
      if (isAfter(name)) names.set(name, end < 0 ? this.found(key) : null);
    }
    const page = [...names].slice(0, limit);
    const isEncoded = query.get('encoding-type') === 'url';
    const spelled = (name: string) => (isEncoded ? name.split('/').map(encoded).join('/') : name);
    const inner = page.map(([name, stored]) =>
      stored
        ? `<Contents>${tag('Key', spelled(name))}${tag('LastModified', new Date(stored.modifiedMs).toISOString())}${tag('ETag', `"${stored.etag}"`)}${tag('Size', stored.sizeBytes)}${tag('StorageClass', 'STANDARD')}</Contents>`
        : `<CommonPrefixes>${tag('Prefix', spelled(name))}</CommonPrefixes>`,
    );
    const isMore = names.size > limit;
    return xmlReply(
      'ListBucketResult',
      [
        tag('Name', this.keys.bucket),
        tag('Prefix', prefix),
        tag('KeyCount', page.length),
        tag('MaxKeys', limit),
        tag('IsTruncated', isMore),
        isEncoded ? tag('EncodingType', 'url') : '',
        isMore ? tag('NextContinuationToken', page.at(-1)?.[0] ?? '') : '',
        ...inner,
      ].join(''),
    );
  }

  private get({ method, key, headers }: Asked): Reply {
    const stored = this.found(key);
    const match = headers['if-match'];
    if (match && match.replaceAll('"', '') !== stored.etag) throw new Refusal(412, 'PreconditionFailed');
    const told = {
      etag: `"${stored.etag}"`,
      'last-modified': new Date(stored.modifiedMs).toUTCString(),
      'accept-ranges': 'bytes',
    };
    if (method === 'HEAD') return { status: 200, headers: { ...told, 'content-length': String(stored.sizeBytes) } };
    const bytes = this.bytesOf(key);
    const [, from, to] = /^bytes=(\d+)-(\d*)$/.exec(headers.range ?? '') ?? [];
    if (from === undefined) return { status: 200, headers: told, body: bytes };
    const end = Math.min(bytes.length, to ? Number(to) + 1 : bytes.length);
    if (Number(from) >= end) throw new Refusal(416, 'InvalidRange');
    return {
      status: 206,
      headers: { ...told, 'content-range': `bytes ${from}-${end - 1}/${bytes.length}` },
      body: bytes.subarray(Number(from), end),
    };
  }

  /** What is to be copied, and what of it. */
  private source({ headers }: Asked): Buffer | null {
    const asked = headers['x-amz-copy-source'];
    if (typeof asked !== 'string') return null;
    const key = decodeURIComponent(asked)
      .replace(/^\//, '')
      .slice(this.keys.bucket.length + 1);
    const match = headers['x-amz-copy-source-if-match'];
    if (typeof match === 'string' && match.replaceAll('"', '') !== this.found(key).etag)
      throw new Refusal(412, 'PreconditionFailed');
    const bytes = (this.found(key), this.bytesOf(key));
    const [, from = '0', to] = /^bytes=(\d+)-(\d+)$/.exec(String(headers['x-amz-copy-source-range'] ?? '')) ?? [];
    return bytes.subarray(Number(from), to === undefined ? bytes.length : Number(to) + 1);
  }

  private putObject(asked: Asked): Reply {
    if (asked.headers['if-none-match'] === '*' && this.objects.has(asked.key))
      throw new Refusal(412, 'PreconditionFailed');
    const source = this.source(asked);
    const { etag, modifiedMs } = this.put(asked.key, source ?? asked.body);
    const time = new Date(modifiedMs).toISOString();
    if (source) return xmlReply('CopyObjectResult', tag('LastModified', time) + tag('ETag', `"${etag}"`));
    return { status: 200, headers: { etag: `"${etag}"` } };
  }

  private upload(key: string, id: string): Upload {
    const upload = this.uploads.get(id);
    if (upload?.key !== key) throw new Refusal(404, 'NoSuchUpload');
    return upload;
  }

  private begin(key: string): Reply {
    const id = randomUUID();
    this.uploads.set(id, { key, begunMs: Date.now(), parts: new Map() });
    return xmlReply(
      'InitiateMultipartUploadResult',
      tag('Bucket', this.keys.bucket) + tag('Key', key) + tag('UploadId', id),
    );
  }

  private putPart(asked: Asked, id: string): Reply {
    const upload = this.upload(asked.key, id);
    const number = Number(asked.query.get('partNumber'));
    const source = this.source(asked);
    const bytes = source ?? asked.body;
    const etag = hex('md5', bytes);
    fs.writeFileSync(this.partFile(id, number), bytes);
    upload.parts.set(number, { etag, bytes: bytes.length });
    if (source)
      return xmlReply('CopyPartResult', tag('LastModified', new Date().toISOString()) + tag('ETag', `"${etag}"`));
    return { status: 200, headers: { etag: `"${etag}"` } };
  }

  private complete({ key, body }: Asked, id: string): Reply {
    const { parts } = this.upload(key, id);
    const wanted = [...body.toString('utf8').matchAll(/<Part>(.*?)<\/Part>/gs)].map(([, part = '']) => ({
      number: Number(/<PartNumber>(\d+)</.exec(part)?.[1]),
      etag: (/<ETag>(.*?)</.exec(part)?.[1] ?? '').replace(/&quot;|&#34;|"/g, ''),
    }));
    wanted.forEach(({ number, etag }, at) => {
      const part = parts.get(number);
      if (part?.etag !== etag) throw new Refusal(400, 'InvalidPart');
      if (at < wanted.length - 1 && part.bytes < PART_LEAST_BYTES) throw new Refusal(400, 'EntityTooSmall');
      if (at > 0 && number <= (wanted[at - 1]?.number ?? 0)) throw new Refusal(400, 'InvalidPartOrder');
    });
    if (wanted.length === 0) throw new Refusal(400, 'MalformedXML');
    const whole = Buffer.concat(wanted.map(({ number }) => fs.readFileSync(this.partFile(id, number))));
    const digests = Buffer.concat(wanted.map(({ etag }) => Buffer.from(etag, 'hex')));
    const { etag } = this.put(key, whole, `${hex('md5', digests)}-${wanted.length}`);
    this.drop(id);
    return xmlReply('CompleteMultipartUploadResult', tag('Key', key) + tag('ETag', `"${etag}"`));
  }

  private drop(id: string): void {
    for (const number of this.uploads.get(id)?.parts.keys() ?? [])
      fs.rmSync(this.partFile(id, number), { force: true });
    this.uploads.delete(id);
  }

  private abort(key: string, id: string): Reply {
    this.upload(key, id);
    this.drop(id);
    return { status: 204 };
  }

  private listParts(key: string, id: string): Reply {
    const { parts } = this.upload(key, id);
    const told = [...parts]
      .sort(([a], [b]) => a - b)
      .map(
        ([number, { etag, bytes }]) =>
          `<Part>${tag('PartNumber', number)}${tag('ETag', `"${etag}"`)}${tag('Size', bytes)}</Part>`,
      );
    return xmlReply(
      'ListPartsResult',
      `${tag('Key', key)}${tag('UploadId', id)}${tag('IsTruncated', false)}${told.join('')}`,
    );
  }

  private listUploads(query: URLSearchParams): Reply {
    const prefix = query.get('prefix') ?? '';
    const told = [...this.uploads]
      .filter(([, { key }]) => key.startsWith(prefix))
      .map(
        ([id, { key, begunMs }]) =>
          `<Upload>${tag('Key', key)}${tag('UploadId', id)}${tag('Initiated', new Date(begunMs).toISOString())}</Upload>`,
      );
    return xmlReply(
      'ListMultipartUploadsResult',
      `${tag('Bucket', this.keys.bucket)}${tag('IsTruncated', false)}${told.join('')}`,
    );
  }
}

async function readAsked(request: IncomingMessage, keys: StandInKeys): Promise<Asked> {
  const chunks: Buffer[] = [];
  let length = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    length += chunk.length;
    if (length > BODY_LIMIT_BYTES) throw new Refusal(400, 'EntityTooLarge');
    chunks.push(chunk);
  }
  const body = Buffer.concat(chunks);
  const { pathname, searchParams: query } = new URL(request.url ?? '/', 'http://store');
  const [, bucket = '', ...rest] = pathname.split('/').map(decodeURIComponent);
  refuseUnsigned(request, pathname, query, body, keys);
  if (bucket !== keys.bucket) throw new Refusal(404, 'NoSuchBucket');
  const md5 = request.headers['content-md5'];
  if (md5 !== undefined && md5 !== createHash('md5').update(body).digest('base64')) throw new Refusal(400, 'BadDigest');
  return { method: request.method ?? '', key: rest.join('/'), query, headers: request.headers, body };
}

/** Signature Version 4, in a header. */
function refuseUnsigned(
  { method = '', headers }: IncomingMessage,
  pathname: string,
  query: URLSearchParams,
  body: Buffer,
  { accessKeyId, secretAccessKey }: StandInKeys,
): void {
  const [, id, day = '', region = '', signedNames = '', signature = ''] =
    /^AWS4-HMAC-SHA256 Credential=([^/]+)\/(\d{8})\/([^/]+)\/s3\/aws4_request,\s*SignedHeaders=([^,]+),\s*Signature=([0-9a-f]{64})$/.exec(
      headers.authorization ?? '',
    ) ?? [];
  if (id === undefined) throw new Refusal(403, 'AccessDenied');
  if (id !== accessKeyId) throw new Refusal(403, 'InvalidAccessKeyId');
  const at = String(headers['x-amz-date'] ?? '');
  const when = Date.parse(at.replace(/^(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)Z$/, '$1-$2-$3T$4:$5:$6Z'));
  if (!(Math.abs(Date.now() - when) < SKEW_MS)) throw new Refusal(403, 'RequestTimeTooSkewed');
  const hashed = String(headers['x-amz-content-sha256'] ?? '');
  if (hashed !== 'UNSIGNED-PAYLOAD' && hashed !== hex('sha256', body))
    throw new Refusal(400, 'XAmzContentSHA256Mismatch');
  const canonical = [
    method,
    pathname
      .split('/')
      .map((name) => encoded(decodeURIComponent(name)))
      .join('/'),
    [...query]
      .map(([name, value]) => `${encoded(name)}=${encoded(value)}`)
      .sort()
      .join('&'),
    ...signedNames.split(';').map(
      (name) =>
        `${name}:${String(headers[name] ?? '')
          .trim()
          .replace(/ +/g, ' ')}`,
    ),
    '',
    signedNames,
    hashed,
  ].join('\n');
  const scope = `${day}/${region}/s3/aws4_request`;
  const signingKey = [day, region, 's3', 'aws4_request'].reduce<Buffer | string>(hmac, `AWS4${secretAccessKey}`);
  const right = hmac(signingKey, ['AWS4-HMAC-SHA256', at, scope, hex('sha256', canonical)].join('\n'));
  if (!timingSafeEqual(right, Buffer.from(signature, 'hex'))) throw new Refusal(403, 'SignatureDoesNotMatch');
}

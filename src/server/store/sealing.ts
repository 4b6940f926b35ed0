// Sealing with age (age-encryption.org/v1, https://age-encryption.org/v1): one X25519 recipient a file, so that the
// header has one length and a listing tells how long each file is in the open. Of a sealed file any part is opened by
// itself: its payload is STREAM, chunks of 64 KiB, each with its tag (ChaCha20-Poly1305, RFC 8439), under a key that
// HKDF-SHA-256 (RFC 5869) makes of the file key of the header. Any age program opens what is made here.

import { createDecipheriv, hkdfSync } from 'node:crypto';
import { Decrypter, Encrypter, identityToRecipient } from 'age-encryption';
import { joinBytes } from '@/core/bytes/join';
import { DriveError } from '@/storage/drives/drive';
import { streamOf } from '@/storage/drives/stream-of';
import { NameSealing } from './name-sealing';

/** `age-encryption.org/v1`, `-> X25519 share`, file key, `--- MAC`: 22 + 54 + 44 + 48 bytes. */
const HEADER_BYTES = 168;
const NONCE_BYTES = 16;
const BEFORE_BYTES = HEADER_BYTES + NONCE_BYTES;
const CHUNK_BYTES = 64 * 1024;
const TAG_BYTES = 16;
const SEALED_CHUNK_BYTES = CHUNK_BYTES + TAG_BYTES;

/** How long a sealed file is in the open; `null` where it cannot be one of ours. */
export function openSize(sealedBytes: number): number | null {
  const payload = sealedBytes - BEFORE_BYTES;
  const chunks = Math.ceil(payload / SEALED_CHUNK_BYTES);
  const size = payload - chunks * TAG_BYTES;
  return chunks < 1 || size < 0 || (chunks > 1 && size <= (chunks - 1) * CHUNK_BYTES) ? null : size;
}

export const sealedSize = (size: number): number =>
  BEFORE_BYTES + size + Math.max(1, Math.ceil(size / CHUNK_BYTES)) * TAG_BYTES;

/** Reads bytes of a sealed file. */
export type SealedBytes = (start: number, end: number) => Promise<Uint8Array>;

/** Payload keys of files that were opened; a file that is read part by part asks for its header once. */
const KEYS_KEPT = 500;

export class Sealing {
  private readonly keys = new Map<string, Buffer>();
  /** Names, where they are sealed too. */
  readonly names: NameSealing;
  private recipient: Promise<string> | null = null;

  constructor(private readonly identity: string) {
    this.names = new NameSealing(identity);
  }

  async sealText(text: string): Promise<Uint8Array> {
    const encrypter = new Encrypter();
    encrypter.addRecipient(await this.recipientOf());
    return encrypter.encrypt(text);
  }

  private recipientOf(): Promise<string> {
    return (this.recipient ??= identityToRecipient(this.identity));
  }

  /** What of the pieces leaves. */
  async *seal(pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): AsyncGenerator<Uint8Array<ArrayBuffer>> {
    const encrypter = new Encrypter();
    encrypter.addRecipient(await this.recipientOf());
    const sealed = await encrypter.encrypt(streamOf(pieces));
    const reader = sealed.getReader();
    for (let next = await reader.read(); !next.done; next = await reader.read())
      yield next.value as Uint8Array<ArrayBuffer>;
  }

  /**
   * Bytes `start` to `end` of what was sealed. Rejects with `sealed` where this key does not open it, with `failed` where
   * it was damaged.
   * @param name of these very bytes: another file under the same path has another
   */
  async open(...asked: Parameters<Sealing['openOnce']>): Promise<Uint8Array<ArrayBuffer>> {
    try {
      return await this.openOnce(...asked);
    } catch (error) {
      // what was remembered of an earlier file may have told it wrong
      if (!this.keys.delete(asked[0])) throw error;
      return this.openOnce(...asked);
    }
  }

  private async openOnce(
    name: string,
    sealedBytes: number,
    read: SealedBytes,
    start: number,
    end: number,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const size = openSize(sealedBytes);
    if (size === null) throw new DriveError('sealed', name);
    const key = await this.keyOf(name, read);
    const first = Math.floor(start / CHUNK_BYTES);
    const last = Math.max(first, Math.ceil(end / CHUNK_BYTES) - 1);
    const from = BEFORE_BYTES + first * SEALED_CHUNK_BYTES;
    const sealed = await read(from, Math.min(sealedBytes, BEFORE_BYTES + (last + 1) * SEALED_CHUNK_BYTES));
    const chunks: Uint8Array[] = [];
    for (let at = 0, number = first; at < sealed.length; at += SEALED_CHUNK_BYTES, number += 1) {
      const chunk = sealed.subarray(at, at + SEALED_CHUNK_BYTES);
      const isLast = from + at + chunk.length === sealedBytes;
      chunks.push(openChunk(key, number, isLast, chunk, name));
    }
    return joinBytes(chunks).slice(start - first * CHUNK_BYTES, end - first * CHUNK_BYTES);
  }

  private async keyOf(name: string, read: SealedBytes): Promise<Buffer> {
    const known = this.keys.get(name);
    if (known) return known;
    const before = await read(0, BEFORE_BYTES);
    const fileKey = await this.fileKeyOf(before.subarray(0, HEADER_BYTES), name);
    const key = Buffer.from(hkdfSync('sha256', fileKey, before.subarray(HEADER_BYTES), 'payload', 32));
    if (this.keys.size >= KEYS_KEPT) this.keys.delete(this.keys.keys().next().value ?? '');
    this.keys.set(name, key);
    return key;
  }

  private async fileKeyOf(header: Uint8Array, name: string): Promise<Uint8Array> {
    const decrypter = new Decrypter();
    try {
      decrypter.addIdentity(this.identity);
      return await decrypter.decryptHeader(header);
    } catch (cause) {
      throw new DriveError('sealed', name, { cause });
    }
  }
}

/** The nonce: the number of the chunk in eleven bytes, and whether it is the last. */
function openChunk(key: Buffer, number: number, isLast: boolean, chunk: Uint8Array, name: string): Uint8Array {
  const nonce = Buffer.alloc(12);
  nonce.writeUIntBE(number, 5, 6);
  nonce[11] = isLast ? 1 : 0;
  try {
    const decipher = createDecipheriv('chacha20-poly1305', key, nonce, { authTagLength: TAG_BYTES });
    decipher.setAuthTag(chunk.subarray(chunk.length - TAG_BYTES));
    const open = decipher.update(chunk.subarray(0, chunk.length - TAG_BYTES));
    decipher.final();
    return open;
  } catch (cause) {
    throw new DriveError('failed', name, { cause });
  }
}

/** The key itself, sealed by a passphrase (scrypt): `age -d` asks for it. */
export async function sealKey(identity: string, passphrase: string, workFactor?: number): Promise<Uint8Array> {
  const encrypter = new Encrypter();
  encrypter.setPassphrase(passphrase);
  if (workFactor !== undefined) encrypter.setScryptWorkFactor(workFactor);
  return encrypter.encrypt(`${identity}\n`);
}

/** Rejects with `sealed` where the passphrase is another. */
export async function openKey(sealed: Uint8Array, passphrase: string): Promise<string> {
  const decrypter = new Decrypter();
  decrypter.addPassphrase(passphrase);
  try {
    return (await decrypter.decrypt(sealed, 'text')).trim();
  } catch (cause) {
    throw new DriveError('sealed', '', { cause });
  }
}

// Names that are sealed too: each name of a path by itself and always to the same letters, so that a folder is still
// what its files' keys begin with, and a key is found without a list. The nonce is made of the name (a synthetic one, as
// RFC 5297 has it): HMAC-SHA-256 of the name, cut to 16 bytes, then AES-256-CTR; both keys by HKDF-SHA-256 from the
// store's key. What it does not hide: which files lie in one folder, how long names are, and where names are the same.
//
// No tool opens that by itself. So beside each object lies another with `.name.age` behind its key: the path, sealed
// with age. Wembo never reads it; it is for strangers.

import { createCipheriv, createDecipheriv, createHmac, hkdfSync } from 'node:crypto';

const NONCE_BYTES = 16;

export class NameSealing {
  private readonly macKey: Buffer;
  private readonly nameKey: Buffer;

  constructor(identity: string) {
    const derived = (what: string) => Buffer.from(hkdfSync('sha256', identity, '', `wembo names: ${what}`, 32));
    [this.macKey, this.nameKey] = [derived('mac'), derived('key')];
  }

  private nonceOf(name: string): Buffer {
    return createHmac('sha256', this.macKey).update(name).digest().subarray(0, NONCE_BYTES);
  }

  private seal(name: string): string {
    const nonce = this.nonceOf(name);
    const cipher = createCipheriv('aes-256-ctr', this.nameKey, nonce);
    return Buffer.concat([nonce, cipher.update(name), cipher.final()]).toString('base64url');
  }

  private open(sealed: string): string | null {
    const bytes = Buffer.from(sealed, 'base64url');
    if (bytes.length <= NONCE_BYTES || bytes.toString('base64url') !== sealed) return null;
    const nonce = bytes.subarray(0, NONCE_BYTES);
    const decipher = createDecipheriv('aes-256-ctr', this.nameKey, nonce);
    const name = Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES)), decipher.final()]).toString('utf8');
    return this.nonceOf(name).equals(nonce) ? name : null;
  }

  sealPath(path: string): string {
    return path
      .split('/')
      .map((name) => this.seal(name))
      .join('/');
  }

  /** `null` for what was not sealed by this key. */
  openPath(sealed: string): string | null {
    const names = sealed.split('/').map((name) => this.open(name));
    return names.includes(null) ? null : names.join('/');
  }
}

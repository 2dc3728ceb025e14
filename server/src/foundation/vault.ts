// Keys and tokens are kept sealed: AES-256-GCM (NIST SP 800-38D) with a key that lies beside the
// data, readable by its owner only, or is given in the environment.
import { Inject, Injectable } from '@nestjs/common';
import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { SETTINGS, type Settings } from './settings';

const NONCE_BYTES = 12;
const TAG_BYTES = 16;

@Injectable()
export class Vault {
  private readonly key: Buffer;

  constructor(@Inject(SETTINGS) settings: Settings) {
    this.key = process.env.LANTERN_KEY ? Buffer.from(process.env.LANTERN_KEY, 'base64') : keyFile(join(settings.dataDir, 'vault.key'));
    if (this.key.length !== 32) throw new Error('LANTERN_KEY must be 32 bytes in base64.');
  }

  seal(value: object): string {
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv('aes-256-gcm', this.key, nonce);
    const sealed = Buffer.concat([cipher.update(JSON.stringify(value), 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64');
  }

  /** A mark that nobody else can make for this text (HMAC, RFC 2104, with SHA-256): lets a link prove itself without being kept. */
  mark(text: string): string {
    return createHmac('sha256', this.key).update(text).digest('base64url');
  }

  /** What was sealed, or null when the key has changed or the text was tampered with. */
  open<T extends object>(sealed: string): T | null {
    try {
      const bytes = Buffer.from(sealed, 'base64');
      const decipher = createDecipheriv('aes-256-gcm', this.key, bytes.subarray(0, NONCE_BYTES));
      decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
      const plain = Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]);
      return JSON.parse(plain.toString('utf8')) as T;
    } catch {
      return null;
    }
  }
}

function keyFile(path: string): Buffer {
  if (!existsSync(path)) writeFileSync(path, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx' });
  return Buffer.from(readFileSync(path, 'utf8'), 'base64');
}

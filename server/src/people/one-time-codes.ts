// Codes that are good for half a minute (TOTP, RFC 6238) from a secret that an app shares with us, and spare ones for when the app is gone.
import { createHmac, randomBytes } from 'node:crypto';
import { digestOf } from '../foundation/digest';

const STEP_MS = 30_000;
const DIGITS = 6;
/** Clocks of telephones go a little fast or slow: the codes before and after are taken as well (RFC 6238, 5.2). */
const WINDOW = 1;
const SECRET_BYTES = 20;
const SPARES = 10;
/** RFC 4648, section 6. */
const BASE32 = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

export const newSecret = (): Buffer => randomBytes(SECRET_BYTES);

/** The code of one step (RFC 4226, 5.3, with HMAC-SHA-1, as all apps have it). */
export function codeOf(secret: Buffer, step: number): string {
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(step));
  const mac = createHmac('sha1', secret).update(counter).digest();
  const offset = mac.at(-1)! & 0xf;
  return String((mac.readUInt32BE(offset) & 0x7fffffff) % 10 ** DIGITS).padStart(DIGITS, '0');
}

export const stepAt = (now: number): number => Math.floor(now / STEP_MS);

/** The step whose code it is; null: it is none that is good now. `after`: of the last one that was used. */
export function stepOf(secret: Buffer, code: string, now: number, after: number): number | null {
  const tidy = code.replace(/\D/g, '');
  for (let step = stepAt(now) - WINDOW; step <= stepAt(now) + WINDOW; step++) if (step > after && codeOf(secret, step) === tidy) return step;
  return null;
}

export function base32(bytes: Buffer): string {
  let [bits, held, text] = [0, 0, ''];
  for (const byte of bytes) {
    held = (held << 8) | byte;
    for (bits += 8; bits >= 5; bits -= 5) text += BASE32[(held >>> (bits - 5)) & 31];
    held &= (1 << bits) - 1;
  }
  return bits ? text + BASE32[(held << (5 - bits)) & 31] : text;
}

/** What an app reads from a code that is held before it (the key URI that authenticator apps agree on). */
export const keyUri = (secret: Buffer, email: string, issuer: string): string =>
  `otpauth://totp/${encodeURIComponent(`${issuer}:${email}`)}?${new URLSearchParams({ secret: base32(secret), issuer })}`;

/** Spare codes as they are printed: two groups of five letters and figures that cannot be taken for one another. */
export function newSpares(): string[] {
  const letters = 'abcdefghjkmnpqrstuvwxyz23456789';
  return Array.from({ length: SPARES }, () => {
    const text = Array.from(randomBytes(10), (byte) => letters[byte % letters.length]!).join('');
    return `${text.slice(0, 5)}-${text.slice(5)}`;
  });
}

export const spareDigest = (code: string): string => digestOf(code.toLowerCase().replace(/[^a-z0-9]/g, ''));

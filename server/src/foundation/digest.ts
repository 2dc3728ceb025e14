import { createHash, timingSafeEqual } from 'node:crypto';

/** SHA-256 of a secret, which is all that is kept of it. */
export const digestOf = (secret: string): string => createHash('sha256').update(secret).digest('base64url');

/** Whether two texts are the same, in a time that does not tell how far they are. */
export function sameText(a: string, b: string): boolean {
  const [one, other] = [Buffer.from(a), Buffer.from(b)];
  return one.length === other.length && timingSafeEqual(one, other);
}

// Keys, tokens and passwords of the stand-ins.
import { createHash, randomBytes, scryptSync, timingSafeEqual } from 'node:crypto';

export const newId = (bytes = 9): string => randomBytes(bytes).toString('base64url').replace(/[-_]/g, 'x');
export const newSecret = (): string => randomBytes(24).toString('base64url').replace(/[-_]/g, 'x');
export const digest = (text: string): string => createHash('sha256').update(text).digest('base64url');

export function hashPassword(password: string): string {
  const salt = randomBytes(16);
  return `${salt.toString('base64')}:${scryptSync(password, salt, 32).toString('base64')}`;
}

export function passwordFits(password: string, stored: string): boolean {
  const [salt, hash] = stored.split(':');
  if (!salt || !hash) return false;
  return timingSafeEqual(scryptSync(password, Buffer.from(salt, 'base64'), 32), Buffer.from(hash, 'base64'));
}

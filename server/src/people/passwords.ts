// Passwords are hashed with scrypt (RFC 7914) at N = 2^15, r = 8, p = 1: about 32 MB a hash.
import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';

const derive = promisify<string, Buffer, number, object, Buffer>(scrypt);
const COST = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const HASH_BYTES = 32;

export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const hash = await derive(password.normalize('NFC'), salt, HASH_BYTES, COST);
  return `scrypt$${COST.N}$${salt.toString('base64')}$${hash.toString('base64')}`;
}

export async function passwordFits(password: string, stored: string): Promise<boolean> {
  const [, cost, salt, hash] = stored.split('$');
  if (!cost || !salt || !hash) return false;
  const again = await derive(password.normalize('NFC'), Buffer.from(salt, 'base64'), HASH_BYTES, { ...COST, N: Number(cost) });
  return timingSafeEqual(again, Buffer.from(hash, 'base64'));
}

export const newToken = (): string => randomBytes(32).toString('base64url');

import { createHash } from 'node:crypto';

/** SHA-256 of a secret, which is all that is kept of it. */
export const digestOf = (secret: string): string => createHash('sha256').update(secret).digest('base64url');

// Reads a playlist (HLS, RFC 8216) that is being written anew all the time.
import { readFile } from 'node:fs/promises';
import { setTimeout as after } from 'node:timers/promises';

const AGAIN_AFTER_MS = 15;
const TRIES = 6;

/**
 * The playlist as it is now, and whole. Older ffmpegs write over the one before, which is empty for a moment; a player that met that would
 * take it for the end. Throws where there is none, or none that is whole.
 */
export async function readPlaylist(path: string): Promise<Buffer> {
  for (let tried = 1; ; tried++) {
    const bytes = await readFile(path);
    if (bytes.includes('#EXTINF') && bytes.at(-1) === 0x0a) return bytes;
    if (tried === TRIES) throw new Error('The playlist is not whole.');
    await after(AGAIN_AFTER_MS);
  }
}

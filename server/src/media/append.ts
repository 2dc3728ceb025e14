// Files that grow by what is sent, piece upon piece.
import { open } from 'node:fs/promises';
import { PlainError } from '../foundation/errors';

/** Puts bytes, at most `most`, at the end of a file that has `size`; returns how many it has then. What a disk does not take whole is not there afterwards either. */
export async function append(path: string, size: number, body: AsyncIterable<Buffer>, most: number): Promise<number> {
  const file = await open(path, size === 0 ? 'w' : 'r+');
  let at = size;
  try {
    for await (const bytes of body) {
      if (at + bytes.length - size > most) throw new PlainError(413, `At most ${most} bytes are taken at once.`);
      // A disk that is nearly full takes a part, and refuses at the next.
      for (let taken = 0; taken < bytes.length;) taken += (await file.write(bytes, taken, bytes.length - taken, at + taken)).bytesWritten;
      at += bytes.length;
    }
    await file.sync();
    return at;
  } catch (error) {
    await file.truncate(size).catch(() => undefined);
    throw error;
  } finally {
    await file.close();
  }
}

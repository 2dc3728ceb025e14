// Files that belong together, written whole or not at all.
import { rename, rm, writeFile } from 'node:fs/promises';

/**
 * Writes files that belong together. All are written beside their places before the first is put in its own: where the disk takes one of
 * them not, those that were there before stay, and a reader never meets half a file.
 */
export async function writeTogether(files: readonly (readonly [path: string, bytes: Uint8Array])[]): Promise<void> {
  try {
    for (const [path, bytes] of files) await writeFile(`${path}.new`, bytes);
  } catch (error) {
    // What went wrong is told, and not that it could not be cleared away.
    for (const [path] of files) await rm(`${path}.new`, { force: true }).catch(() => undefined);
    throw error;
  }
  for (const [path] of files) await rename(`${path}.new`, path);
}

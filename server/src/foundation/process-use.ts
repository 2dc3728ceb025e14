// What a process takes of the machine, where the system tells it in files (proc(5)).
import { readFile } from 'node:fs/promises';

const PAGE_BYTES = 4_096;
/** USER_HZ, in which Linux tells every time to programs. */
const TICKS_PER_SECOND = 100;

/** What a process holds in memory; 0 where that is not told. */
export async function residentBytes(pid: number | undefined): Promise<number> {
  try {
    const [, pages] = (await readFile(`/proc/${pid}/statm`, 'utf8')).split(' ');
    return Number(pages) * PAGE_BYTES;
  } catch {
    return 0;
  }
}

/** How long a process has worked, for itself and in calls of the system, in milliseconds; null where that is not told. */
export async function workedMs(pid: number | undefined): Promise<number | null> {
  try {
    const text = await readFile(`/proc/${pid}/stat`, 'utf8');
    // The name of the program comes second, in brackets, and may have spaces of its own: what follows begins with the third field.
    const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
    return ((Number(fields[11]) + Number(fields[12])) * 1_000) / TICKS_PER_SECOND;
  } catch {
    return null;
  }
}

import { readFile } from 'node:fs/promises';

const PAGE_BYTES = 4_096;

/** What a process holds in memory; 0 where the system does not tell it in a file (proc(5)). */
export async function residentBytes(pid: number | undefined): Promise<number> {
  try {
    const [, pages] = (await readFile(`/proc/${pid}/statm`, 'utf8')).split(' ');
    return Number(pages) * PAGE_BYTES;
  } catch {
    return 0;
  }
}

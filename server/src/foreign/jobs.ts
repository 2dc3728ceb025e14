// What is done with files of strangers, in a process that may be killed in the middle of it. It runs there and nowhere else.
import { readCalendar } from './read-calendar';
import { readTable } from './read-table';
import { decodePicture } from './incoming-picture';
import { readFont } from './read-font';

export type Job =
  | { kind: 'calendar'; text: string; zone: string }
  | { kind: 'table'; text: string }
  | { kind: 'picture'; bytes: Uint8Array; as: 'master' | 'piece' }
  | { kind: 'font'; bytes: Uint8Array };

export async function doJob(job: Job): Promise<unknown> {
  switch (job.kind) {
    case 'calendar':
      return readCalendar(job.text, job.zone);
    case 'table':
      return readTable(job.text);
    case 'picture':
      return decodePicture(Buffer.from(job.bytes), job.as);
    case 'font':
      return readFont(Buffer.from(job.bytes));
  }
}

interface Limit {
  ms: number;
  bytes: number;
  what: string;
}

export function limitOf(job: Job): Limit {
  const drawn = job.kind === 'picture' && /^[\s\ufeff]*</.test(Buffer.from(job.bytes.subarray(0, 64)).toString('utf8'));
  return LIMITS[drawn ? 'drawing' : job.kind];
}

/** What one job may take: of time, and of memory over what the process has by itself. */
const LIMITS: Record<Job['kind'] | 'drawing', Limit> = {
  calendar: { ms: 3_000, bytes: 400_000_000, what: 'This calendar' },
  table: { ms: 5_000, bytes: 400_000_000, what: 'This table' },
  // A drawing of a page takes a tenth of a second; one that takes longer is made to.
  drawing: { ms: 4_000, bytes: 600_000_000, what: 'This drawing' },
  font: { ms: 6_000, bytes: 400_000_000, what: 'This font' },
  picture: { ms: 15_000, bytes: 1_200_000_000, what: 'This picture' },
};

// The networks' clock. It is the machine's, moved by the milliseconds in the file that LANTERN_CLOCK_FILE
// names, so that a run can be brought to any moment of a show without waiting for it.
import { readFileSync } from 'node:fs';

export function now(): number {
  const file = process.env.LANTERN_CLOCK_FILE;
  if (!file) return Date.now();
  try {
    return Date.now() + (Number(readFileSync(file, 'utf8')) || 0);
  } catch {
    return Date.now();
  }
}

// Moments of a recording as they are written and typed, fine enough to tell one picture from the next.

/** 1:02:03.40, 2:03.40; hundredths of a second. */
export function sayCutTime(ms: number): string {
  const hundredths = Math.round(Math.max(0, ms) / 10);
  const [hours, minutes, seconds] = [Math.floor(hundredths / 360_000), Math.floor(hundredths / 6_000) % 60, (hundredths % 6_000) / 100];
  const rest = seconds.toFixed(2).padStart(5, '0');
  return hours ? `${hours}:${String(minutes).padStart(2, '0')}:${rest}` : `${minutes}:${rest}`;
}

/** In ms; null: it is no time. 63 and 1:03 are the same; a point or a comma before parts of a second. */
export function readCutTime(typed: string): number | null {
  const found = /^(?:(?:(\d{1,2}):)?(\d{1,3}):)?(\d{1,5})(?:[.,](\d{1,3}))?$/.exec(typed.trim());
  if (!found) return null;
  const [, hours = '0', minutes = '0', seconds = '0', parts = ''] = found;
  if ((found[1] !== undefined && Number(minutes) > 59) || (found[2] !== undefined && Number(seconds) > 59)) return null;
  return Number(hours) * 3_600_000 + Number(minutes) * 60_000 + Number(seconds) * 1_000 + Number(parts.padEnd(3, '0'));
}

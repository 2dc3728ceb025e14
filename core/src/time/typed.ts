// Dates and times as people type them, and as a field shows them again: weekday and month by name, so that nobody has
// to know which number is the month.
import { dateOfDay, dayNumber, EARLIEST_DATE, LATEST_DATE, WEEKDAYS, weekdayOfDate } from './days';

/** In which order the numbers of a date are meant where only numbers are typed, and the parts are shown. */
export const DATE_ORDERS = ['day first', 'month first', 'year first'] as const;
export type DateOrder = (typeof DATE_ORDERS)[number];

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];
const FULL_MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'];
const FULL_DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** "Thu 17 December 2026", "Thu, December 17, 2026" or "2026 December 17, Thu", for a date as YYYY-MM-DD; anything else stays as it is. */
export function sayTypedDate(date: string, order: DateOrder = 'day first'): string {
  if (dayNumber(date) === null) return date;
  const weekday = FULL_DAYS[WEEKDAYS.indexOf(weekdayOfDate(date))]!.slice(0, 3);
  const [year, month, day] = [date.slice(0, 4), FULL_MONTHS[Number(date.slice(5, 7)) - 1]!, Number(date.slice(8))];
  if (order === 'month first') return `${weekday}, ${month} ${day}, ${year}`;
  return order === 'year first' ? `${year} ${month} ${day}, ${weekday}` : `${weekday} ${day} ${month} ${year}`;
}

/**
 * The date (YYYY-MM-DD) that somebody means by what was typed on `today` (YYYY-MM-DD), null where it cannot be told.
 * Understands "17 Dec", "Dec 17 2027", "17.12.", "17/12/2026", 2026-12-17 (ISO 8601, section 5.2.1.1), "tomorrow", "fri", "next fri" and "in 3 days".
 * Without a year the next such day is meant.
 */
export function readTypedDate(typed: string, today: string, order: DateOrder = 'day first'): string | null {
  const now = dayNumber(today);
  if (now === null) return null;
  const words = typed.normalize('NFKC').trim().toLowerCase();
  if (/^\d{4}-\d{2}-\d{2}$/.test(words)) return within(words);
  const near = { today: 0, tonight: 0, tomorrow: 1 }[words];
  if (near !== undefined) return within(dateOfDay(now + near));
  const ahead = /^in (\d{1,3}) (day|week)s?$/.exec(words);
  if (ahead) return within(dateOfDay(now + Number(ahead[1]) * (ahead[2] === 'week' ? 7 : 1)));
  const named = /^(next |on |this )?([a-z]{3,9})$/.exec(words);
  const weekday = named ? indexOfName(named[2]!, DAYS, FULL_DAYS) : -1;
  if (weekday >= 0) {
    const away = (weekday - WEEKDAYS.indexOf(weekdayOfDate(today)) + 7) % 7;
    return within(dateOfDay(now + (named![1] === 'next ' && away === 0 ? 7 : away)));
  }
  return fromParts(words, today, order);
}

function fromParts(words: string, today: string, order: DateOrder): string | null {
  const parts = words.split(/[\s.,/-]+/).filter(Boolean);
  const names = parts.filter((part) => /^[a-z]/.test(part));
  const month = names.map((name) => indexOfName(name, MONTHS, FULL_MONTHS)).find((at) => at >= 0);
  // A word that is neither a month nor a weekday is no part of a date.
  if (names.some((name) => indexOfName(name, MONTHS, FULL_MONTHS) < 0 && indexOfName(name, DAYS, FULL_DAYS) < 0)) return null;
  const numbers = parts.filter((part) => !/^[a-z]/.test(part)).map((part) => part.replace(/(st|nd|rd|th)$/, ''));
  if (numbers.some((number) => !/^\d{1,4}$/.test(number))) return null;
  const year = numbers.find((number) => number.length === 4);
  const rest = numbers.filter((number) => number !== year).map(Number);
  if (month !== undefined) {
    if (rest.length === 2 && year === undefined) return inYear(2_000 + rest[1]!, month + 1, rest[0]!);
    if (rest.length !== 1) return null;
    return year === undefined ? nextSuch(today, month + 1, rest[0]!) : inYear(Number(year), month + 1, rest[0]!);
  }
  if (names.length && !numbers.length) return null;
  const [first, second, third] = rest;
  if (first === undefined || second === undefined) return null;
  const [day, monthNumber] = order === 'day first' ? [first, second] : [second, first];
  if (year !== undefined)
    return third === undefined ? inYear(Number(year), numbers[0] === year ? first : monthNumber, numbers[0] === year ? second : day) : null;
  if (third !== undefined) return order === 'year first' ? inYear(2_000 + first, second, third) : inYear(2_000 + third, monthNumber, day);
  return nextSuch(today, monthNumber, day);
}

/** "dec", "decem" and "December" are one month; two letters could be several. */
function indexOfName(name: string, short: readonly string[], full: readonly string[]): number {
  return name.length < 3 ? -1 : short.findIndex((start, at) => name.startsWith(start) && full[at]!.toLowerCase().startsWith(name.replace(/^sept$/, 'sep')));
}

const pad = (value: number, to = 2): string => String(value).padStart(to, '0');

function inYear(year: number, month: number, day: number): string | null {
  return within(`${pad(year, 4)}-${pad(month)}-${pad(day)}`);
}

function nextSuch(today: string, month: number, day: number): string | null {
  const year = Number(today.slice(0, 4));
  // A leap day may be some years away.
  for (let ahead = 0; ahead <= 8; ahead++) {
    const date = inYear(year + ahead, month, day);
    if (date !== null && date >= today) return date;
  }
  return null;
}

const within = (date: string): string | null => (dayNumber(date) !== null && date >= EARLIEST_DATE && date <= LATEST_DATE ? date : null);

/**
 * The time of day (HH:MM, ISO 8601 section 5.3.1.1) that somebody means by what was typed, null where it cannot be told. Understands "20:30", "20.30", "2030",
 * "8:30 pm", "8pm", "20h30", "20", "noon" and "midnight".
 */
export function readTypedTime(typed: string): string | null {
  const words = typed.normalize('NFKC').trim().toLowerCase();
  if (words === 'noon' || words === 'midday') return '12:00';
  if (words === 'midnight') return '00:00';
  const parts = /^(\d{1,2})(?:\s*[:.h]\s*(\d{2})?|(\d{2}))?\s*([ap])?\.?\s*(?:m\.?)?$/.exec(words);
  if (!parts || (/m\.?$/.test(words) && !parts[4])) return null;
  const minutes = Number(parts[2] ?? parts[3] ?? 0);
  let hours = Number(parts[1]);
  if (parts[4]) {
    if (hours < 1 || hours > 12) return null;
    hours = (hours % 12) + (parts[4] === 'p' ? 12 : 0);
  }
  return hours > 23 || minutes > 59 ? null : `${pad(hours)}:${pad(minutes)}`;
}

/** A moment of the day with its seconds where they were typed: HH:MM or HH:MM:SS; null where it cannot be told. */
export function readTypedMoment(typed: string): string | null {
  const [, clock, seconds] = /^\s*(\d{1,2}\s*[:.]\s*\d{2})\s*[:.]\s*([0-5]\d)\s*$/.exec(typed) ?? [];
  if (clock === undefined) return readTypedTime(typed);
  const minute = readTypedTime(clock);
  return minute && (seconds === '00' ? minute : `${minute}:${seconds}`);
}

const MINUTE_S = 60;
const HOUR_S = 3_600;

/** “5” (minutes), “5:30”, “1:05:00”, “90 s”, “5 min”, “1 h 10” in seconds; null: it is none of these. */
export function readTypedLength(typed: string): number | null {
  const text = typed.trim().toLowerCase();
  const clock = /^(?:(\d{1,2}):)?(\d{1,3}):(\d{2})$/.exec(text);
  if (clock) {
    const [hours, minutes, seconds] = clock.slice(1).map((part) => Number(part ?? 0)) as [number, number, number];
    return seconds < 60 && (clock[1] === undefined || minutes < 60) ? hours * HOUR_S + minutes * MINUTE_S + seconds : null;
  }
  // Numbers with their units, the larger first; one without any is minutes, or what comes after the one before it.
  let total = 0;
  let last = -1;
  let read = 0;
  for (const [whole, number, unit = ''] of text.matchAll(/(\d{1,4})\s*([a-z]*)\s*/gy)) {
    const at = unit ? UNITS.findIndex(({ names }) => names.includes(unit)) : last < 0 ? 1 : last + 1;
    const found = UNITS[at];
    if (!found || at <= last) return null;
    total += Number(number) * found.seconds;
    last = at;
    read += whole.length;
  }
  return text && read === text.length ? total : null;
}

const UNITS = [
  { seconds: HOUR_S, names: ['h', 'hr', 'hour', 'hours'] },
  { seconds: MINUTE_S, names: ['m', 'min', 'minute', 'minutes'] },
  { seconds: 1, names: ['s', 'sec', 'second', 'seconds'] },
];

/** “5:30”, “1:05:00”: as it is typed, and read again. */
export function sayTypedLength(seconds: number): string {
  const [hours, minutes, rest] = [Math.floor(seconds / HOUR_S), Math.floor(seconds / MINUTE_S) % 60, seconds % 60];
  return hours ? `${hours}:${pad(minutes)}:${pad(rest)}` : `${minutes}:${pad(rest)}`;
}

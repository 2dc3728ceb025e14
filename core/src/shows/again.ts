// A show taken up again: when it comes next, and which of its words may be about the old date.
import { instant, type Instant } from '../time/instant';
import { wallTimeOf } from '../time/zones';
import { occurrenceOn } from '../series/occurrences';
import { dateOfDay, dayNumber } from '../time/days';

/** The next start on the same weekday and at the same wall time, in whole weeks after the old one and after `now`. */
export function nextTime(startsAt: Instant, zone: string, now: Instant): { startsAt: Instant; sure: boolean } {
  const { date, time } = wallTimeOf(startsAt, zone);
  const today = dayNumber(wallTimeOf(now, zone).date)!;
  const day = dayNumber(date)!;
  const weeks = Math.max(1, Math.ceil((today + 1 - day) / 7));
  const { startsAt: next, wall } = occurrenceOn(dateOfDay(day + weeks * 7), time, zone);
  return { startsAt: instant(next), sure: wall === 'once' };
}

const DATED =
  /\b(?:\d{1,2}(?:st|nd|rd|th)?\s+(?:january|february|march|april|may|june|july|august|september|october|november|december)|(?:january|february|march|april|june|july|august|september|october|november|december)\b|(?:mon|tues|wednes|thurs|fri|satur|sun)day|tonight|tomorrow|today|this (?:week|month|evening|year)|last (?:week|month|time)|next (?:week|month|time)|\d{4}-\d{2}-\d{2}|\d{1,2}[:.]\d{2}\b|(?:episode|no\.|#)\s*\d+)/gi;

/** Words of a text that may be right for one date only, each once, in their order. Placeholders follow the date by themselves. */
export function datedWords(text: string): string[] {
  const found = text.replace(/\{[^{}\n]*\}/g, ' ').match(DATED) ?? [];
  return [...new Set(found.map((words) => words.trim()))];
}

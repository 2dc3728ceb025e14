// Calendar files that come in.
import { ArrayMaxSize, IsArray, IsOptional, IsString, MaxLength } from 'class-validator';

export const CALENDAR_MAX_BYTES = 1_000_000;
export const CALENDAR_MAX_EVENTS = 500;

export class CalendarFile {
  @IsString({ message: 'This is not a calendar file.' })
  @MaxLength(CALENDAR_MAX_BYTES, { message: 'This calendar is larger than 1 MB. Export a shorter time and try again.' })
  text!: string;

  /** Which events to take over, by `id`; without: only look. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(CALENDAR_MAX_EVENTS)
  @IsString({ each: true })
  take?: string[];
}

/** One event of a calendar file as it would become a draft. */
export interface CalendarEntry {
  id: string;
  title: string;
  startsAt: number | null;
  zone: string;
  lengthMin: number;
  /** "Every Thursday"; empty: once. */
  repeats: string;
  /** Why it cannot be taken over, or what is left behind, in words; empty: nothing. */
  trouble: string;
  possible: boolean;
}

export interface CalendarReading {
  entries: CalendarEntry[];
  /** Shows that were made of them. */
  made: { id: string; title: string }[];
  /** Events of which nothing was made, with the reason in words. */
  refused: { title: string; words: string }[];
}

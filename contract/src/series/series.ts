// Shows that repeat: what is sent to begin, change and end a series.
import { INTERVAL_MAX, LISTED_MAX, repeatTrouble, WEEKDAYS, type Pattern, type Repeat, type SeriesAhead } from '@lantern/core';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsObject, IsString, Matches, registerDecorator, type ValidationArguments } from 'class-validator';
import type { RemovedView } from '../shows/views';
import type { SeriesField } from '../shows/sheet';

/** A pattern as core understands it: shape first, then what it says. */
function IsRepeatRule() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isRepeatRule',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (_value: unknown, args: ValidationArguments) => ruleTrouble(args.object as RepeatRequest) === null,
        defaultMessage: (args: ValidationArguments) => ruleTrouble(args.object as RepeatRequest) ?? '',
      },
    });
}

function ruleTrouble(request: RepeatRequest): string | null {
  const { pattern, from, ends, also, dropped } = request;
  if (!isPattern(pattern) || typeof ends !== 'object' || !['never', 'until', 'count'].includes(ends?.kind)) return 'Say how the show repeats.';
  if (!Array.isArray(also) || !Array.isArray(dropped) || typeof from !== 'string') return 'Say how the show repeats.';
  return repeatTrouble({ pattern, from, ends, also, dropped });
}

function isPattern(value: unknown): value is Pattern | null {
  if (value === null) return true;
  if (typeof value !== 'object' || value === null) return false;
  const { every, interval, on, onDate, nth } = value as Record<string, unknown>;
  if (typeof interval !== 'number' || interval > INTERVAL_MAX) return false;
  const weekday = (name: unknown) => (WEEKDAYS as readonly unknown[]).includes(name);
  if (every === 'day') return true;
  if (every === 'week') return Array.isArray(on) && on.every(weekday);
  return every === 'month' && (typeof onDate === 'number' || (weekday(on) && [1, 2, 3, 4, 5, -1].includes(nth as number)));
}

export class RepeatRequest implements Repeat {
  @IsRepeatRule()
  pattern!: Pattern | null;

  @Matches(/^\d{4}-\d{2}-\d{2}$/, { message: 'Choose the first date.' })
  from!: string;

  @IsObject()
  ends!: Repeat['ends'];

  @IsArray()
  @ArrayMaxSize(LISTED_MAX)
  @IsString({ each: true })
  also!: string[];

  @IsArray()
  @ArrayMaxSize(LISTED_MAX)
  @IsString({ each: true })
  dropped!: string[];

  /** Whether dates are placed without being asked, once a channel takes them. */
  @IsBoolean()
  placesByItself!: boolean;
}

/** For which dates of a series something is meant. */
export type SeriesScope = 'later' | 'all';

/** Brings what differs on one date to others. */
export class SpreadRequest {
  @IsIn(['later', 'all'], { message: 'Say for which dates this is meant.' })
  scope!: SeriesScope;

  @IsArray()
  @ArrayMaxSize(30)
  @IsString({ each: true })
  fields!: SeriesField[];
}

export class NewRuleRequest extends RepeatRequest {
  @IsIn(['later', 'all'], { message: 'Say for which dates this is meant.' })
  scope!: SeriesScope;
}

/** A series as the almanac looks ahead over it. */
export interface SeriesView extends SeriesAhead {
  /** Dates up to here have become shows. */
  madeUntil: number;
}

/** What happened to the dates of a series. */
export interface SeriesResult {
  changed: number;
  made: number;
  removed: number;
  /** Dates that stand on channels and no longer belong: they were left as single shows. */
  left: DateOfSeries[];
  /** Dates whose start a clock change skips or shows twice: each has to be looked at before it is placed. */
  clocks: DateOfSeries[];
}

export interface DateOfSeries {
  id: string;
  title: string;
  startsAt: number;
  zone: string;
}

/** What became of a date that was to be dropped. */
export interface DropResult {
  /** What channels refused, in words; then nothing was dropped. */
  refused: string[];
  /** By what the drop can be taken back; null: the date stood somewhere, and is kept as a withdrawn show. */
  removed: RemovedView | null;
}

// What somebody wants to do otherwise, or again, the next time.
import { Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsInt, IsNotEmpty, IsString, MaxLength, Min, ValidateNested } from 'class-validator';

export const MOST_LESSONS = 40;
export const LONGEST_LESSON = 400;

/** `cue`: the name of the cue that it belongs to; empty: the whole evening. */
export class Lesson {
  @IsString()
  @MaxLength(200)
  cue!: string;

  @IsString()
  @IsNotEmpty({ message: 'Write what to do otherwise, or leave it out.' })
  @MaxLength(LONGEST_LESSON, { message: `Keep it to ${LONGEST_LESSON} characters.` })
  words!: string;
}

/** All of them, over the state that was looked at, and over no other. */
export class LessonsDraft {
  @IsInt()
  @Min(0)
  base!: number;

  @IsArray()
  @ArrayMaxSize(MOST_LESSONS, { message: `Keep it to ${MOST_LESSONS} notes.` })
  @ValidateNested({ each: true })
  @Type(() => Lesson)
  lessons!: Lesson[];
}

export interface LessonsView {
  /** Counts their changes. */
  revision: number;
  lessons: Lesson[];
  /** Of earlier dates of the same series, the latest first. */
  before: { showId: string; title: string; startsAt: number; zone: string; lessons: Lesson[] }[];
}

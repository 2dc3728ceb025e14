// The running order of a show as it is typed and kept.
import { SCENE_ID, type Cue, type SceneId } from '@lantern/core';
import { IsInt, IsOptional, IsString, Matches, Max, MaxLength, Min, ValidateIf } from 'class-validator';

export const MOST_CUES = 300;

export class CueDraft implements Cue {
  @IsString()
  @MaxLength(40)
  id!: string;

  @IsString()
  @MaxLength(120, { message: 'Keep the name of a cue to 120 characters.' })
  name!: string;

  /** In seconds. */
  @IsInt({ message: 'Give the length of a cue, as 5:30.' })
  @Min(0, { message: 'Give the length of a cue, as 5:30.' })
  @Max(172_800, { message: 'A cue lasts at most 48 hours.' })
  lengthS!: number;

  @ValidateIf((_, value) => value !== null)
  @Matches(/^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?$/, { message: 'Give the time at which a cue begins as 21:22 or 21:22:09.' })
  hardAt!: string | null;

  @IsString()
  @MaxLength(120, { message: 'Keep it to 120 characters.' })
  who!: string;

  @IsString()
  @MaxLength(4_000, { message: 'Keep the notes of a cue to 4,000 characters.' })
  notes!: string;

  @IsOptional()
  @Matches(SCENE_ID, { message: 'Choose one of the scenes.' })
  scene?: SceneId | null;
}

// What is played into a show, as it is chosen and kept.
import { CLIP_ENDS, CLIP_SOURCES, type ClipEnd, type ClipInShow, type ClipSource } from '@lantern/core';
import { IsIn, IsString, IsUUID, MaxLength, ValidateIf } from 'class-validator';

export const MOST_CLIPS_IN_SHOW = 60;

export class ClipInShowDraft implements ClipInShow {
  @IsString()
  @MaxLength(40)
  id!: string;

  @IsIn(CLIP_SOURCES, { message: 'Choose a clip or a picture.' })
  from!: ClipSource;

  @IsUUID(undefined, { message: 'Choose something of the library.' })
  item!: string;

  @ValidateIf((_, value) => value !== null)
  @IsString()
  @MaxLength(40)
  cue!: string | null;

  @IsIn(CLIP_ENDS, { message: 'Say what comes after it.' })
  then!: ClipEnd;
}

// The graphics of a show as they are typed and kept.
import { GRAPHIC_KINDS, type Graphic, type GraphicKind } from '@lantern/core';
import { IsIn, IsInt, IsString, Max, MaxLength, Min, ValidateIf } from 'class-validator';

export const MOST_GRAPHICS = 100;
/** Characters of a moving line: at its pace two minutes. */
export const LONGEST_CRAWL = 1_200;

export class GraphicDraft implements Graphic {
  @IsString()
  @MaxLength(40)
  id!: string;

  @IsIn(GRAPHIC_KINDS, { message: 'Choose one of the kinds.' })
  kind!: GraphicKind;

  @IsString()
  @MaxLength(LONGEST_CRAWL, { message: `Keep a moving line to ${LONGEST_CRAWL.toLocaleString('en')} characters: at its pace that takes two minutes to read.` })
  text!: string;

  @IsString()
  @MaxLength(1_000, { message: 'Keep it to 1,000 characters.' })
  more!: string;

  @ValidateIf((_, value) => value !== null)
  @IsInt({ message: 'Say after how many seconds it goes.' })
  @Min(2, { message: 'Nobody reads it in less than two seconds.' })
  @Max(3_600, { message: 'It goes by itself within an hour, or stays.' })
  hidesAfterS!: number | null;

  @ValidateIf((_, value) => value !== null)
  @IsString()
  @MaxLength(40)
  cue!: string | null;

  @ValidateIf((_, value) => value !== null)
  @IsInt()
  lookedAtFor!: number | null;
}

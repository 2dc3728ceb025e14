// The show sheet as it is typed and kept.
import {
  BLANK_SHEET,
  HOUSE_VISIBILITIES,
  MILESTONES,
  PICTURES_FROM,
  dayNumber,
  isZone,
  readWallTime,
  type Billed,
  type FieldToLook,
  type HouseVisibility,
  type MilestoneName,
  type PictureFrom,
  type SheetValues,
  type Variant,
} from '@lantern/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
  type ValidationArguments,
  registerDecorator,
} from 'class-validator';
import { IsPart } from '../rules/part';
import { IsPlannableDate, IsZoneName } from '../rules/times';
import { AnnouncementDraft } from './announcing';
import { ChoicesDraft } from './choices';
import { ClipInShowDraft, MOST_CLIPS_IN_SHOW } from './clips';
import { MOST_SCENES, SceneInShow } from '../scenes/scenes';
import { GraphicDraft, MOST_GRAPHICS } from './graphics';
import { CueDraft, MOST_CUES } from './running-order';
import { MilestoneTimesDraft } from './milestones';

/** The time of a draft must be one that its zone's clocks really show, once. */
function IsWallTimeThere() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isWallTimeThere',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (_value: unknown, args: ValidationArguments) => wallTimeTrouble(args.object as ShowDraft) === null,
        defaultMessage: (args: ValidationArguments) => wallTimeTrouble(args.object as ShowDraft) ?? '',
      },
    });
}

function wallTimeTrouble(draft: ShowDraft): string | null {
  if (typeof draft.date !== 'string' || dayNumber(draft.date) === null || typeof draft.zone !== 'string' || !isZone(draft.zone)) return null; // Said at those fields.
  const reading = readWallTime({ date: draft.date, time: draft.time }, draft.zone);
  switch (reading.kind) {
    case 'unreadable':
      return 'Type the day and the time as they stand in a calendar, for example 20:30.';
    case 'skipped':
      return `Clocks in ${draft.zone} jump over ${draft.time} that night. Choose an earlier or a later time.`;
    case 'twice':
      return draft.fold ? null : `Clocks in ${draft.zone} show ${draft.time} twice that night. Say which of the two is meant.`;
    case 'once':
      return null;
  }
}

/** Which line of a channel the show goes out on. Channels that are not named use their only or first one. */
export class LineChoice {
  @IsUUID(undefined, { message: 'One of these channels is not known here.' })
  channelId!: string;

  @IsUUID(undefined, { message: 'This line is not known here.' })
  lineId!: string;
}

export const TITLE_MAX = 300;
export const TEXT_MAX = 20_000;
const TITLE_WORDS = `No network takes a title longer than ${TITLE_MAX} characters.`;
const TEXT_WORDS = 'Keep the text to 20,000 characters.';

/** How one channel's airing differs from the common text. Null: it does not. */
export class VariantDraft implements Variant {
  @IsUUID(undefined, { message: 'One of these channels is not known here.' })
  channelId!: string;

  @IsOptional()
  @IsString()
  @MaxLength(TITLE_MAX, { message: TITLE_WORDS })
  title: string | null = null;

  @IsOptional()
  @IsString()
  @MaxLength(TEXT_MAX, { message: TEXT_WORDS })
  description: string | null = null;

  @IsPart(() => ChoicesDraft)
  choices: ChoicesDraft = new ChoicesDraft();
}

/** Somebody who is on the picture. */
export class PersonOnShow implements Billed {
  @IsString()
  @IsNotEmpty({ message: 'Give the name, or take the line out.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  @IsIn(['host', 'guest'])
  role!: 'host' | 'guest';

  /** Where they are, as an IANA zone; null: with the show. */
  @IsOptional()
  @IsZoneName()
  zone: string | null = null;

  /** What stands beneath their name on the picture. */
  @IsOptional()
  @IsString()
  @MaxLength(80, { message: 'Keep what stands beneath the name to 80 characters.' })
  caption?: string;
}

/** Everything a host types about a show. The same rules hold on the sheet and at the endpoint. */
export class ShowDraft implements SheetValues {
  /** May be empty while the sheet is being written; placing wants one. */
  @IsString()
  @MaxLength(TITLE_MAX, { message: TITLE_WORDS })
  title!: string;

  @IsString()
  @MaxLength(TEXT_MAX, { message: TEXT_WORDS })
  description!: string;

  @IsPlannableDate()
  date!: string;

  @IsWallTimeThere()
  @Matches(/^\d{2}:\d{2}$/, { message: 'Choose a time.' })
  time!: string;

  @IsZoneName()
  zone!: string;

  /** Which of the two is meant, where clocks show the time twice. */
  @IsOptional()
  @IsIn(['earlier', 'later'])
  fold: 'earlier' | 'later' | null = BLANK_SHEET.fold;

  @IsInt({ message: 'Give the length in whole minutes.' })
  @Min(1, { message: 'A show lasts at least a minute.' })
  @Max(2_880, { message: 'A show lasts at most 48 hours.' })
  lengthMin!: number;

  @IsArray()
  @ArrayUnique({ message: 'Each channel can be ticked once.' })
  @ArrayMaxSize(40, { message: 'Tick at most 40 channels.' })
  @IsUUID(undefined, { each: true, message: 'One of these channels is not known here.' })
  channelIds!: string[];

  @IsArray()
  @ArrayMaxSize(40)
  @ValidateNested({ each: true })
  @Type(() => LineChoice)
  lines!: LineChoice[];

  @IsIn(PICTURES_FROM, { message: 'Say where the picture comes from.' })
  pictureFrom!: PictureFrom;

  @ValidateIf((_, value) => value !== null)
  @IsUUID('all', { message: 'Choose an outside line.' })
  outsideLineId!: string | null;

  @ValidateIf((_, value) => value !== null)
  @IsUUID('all', { message: 'Choose a sound of the library.' })
  breakMusicId: string | null = BLANK_SHEET.breakMusicId;

  /** What the picture shows, for those who cannot see it. */
  @IsString()
  @MaxLength(1_000, { message: 'Keep it to 1,000 characters.' })
  thumbnailAlternative!: string;

  @IsArray()
  @ArrayMaxSize(40)
  @ValidateNested({ each: true })
  @Type(() => VariantDraft)
  variants: VariantDraft[] = [];

  @IsArray()
  @ArrayMaxSize(30, { message: 'Name at most 30 people.' })
  @ValidateNested({ each: true })
  @Type(() => PersonOnShow)
  people: PersonOnShow[] = [];

  /** Where the cameras stand. */
  @IsString()
  @MaxLength(60, { message: 'Keep it to 60 characters.' })
  room = BLANK_SHEET.room;

  @IsOptional()
  @IsInt({ message: 'Give the episode as a whole number.' })
  @Min(1, { message: 'Episodes are counted from 1.' })
  @Max(100_000, { message: 'This number is too large.' })
  episode: number | null = BLANK_SHEET.episode;

  @IsArray()
  @ArrayMaxSize(30, { message: 'Plan at most 30 announcements.' })
  @ValidateNested({ each: true })
  @Type(() => AnnouncementDraft)
  announcements: AnnouncementDraft[] = [];

  /** What comes one after the other. */
  @IsArray()
  @ArrayMaxSize(MOST_CUES, { message: `Plan at most ${MOST_CUES} cues.` })
  @ArrayUnique(({ id }: CueDraft) => id)
  @ValidateNested({ each: true })
  @Type(() => CueDraft)
  cues: CueDraft[] = [];

  /** What is laid over the picture at a touch, in the order of use. */
  @IsArray()
  @ArrayMaxSize(MOST_GRAPHICS, { message: `Prepare at most ${MOST_GRAPHICS} graphics.` })
  @ArrayUnique(({ id }: GraphicDraft) => id)
  @ValidateNested({ each: true })
  @Type(() => GraphicDraft)
  graphics: GraphicDraft[] = [];

  /** What is played into it, in the order of use. */
  @IsArray()
  @ArrayMaxSize(MOST_CLIPS_IN_SHOW, { message: `Prepare at most ${MOST_CLIPS_IN_SHOW} clips.` })
  @ArrayUnique(({ id }: ClipInShowDraft) => id)
  @ValidateNested({ each: true })
  @Type(() => ClipInShowDraft)
  clips: ClipInShowDraft[] = [];

  /** Scenes that are other than the station's of the same name in this show. */
  @IsArray()
  @ArrayMaxSize(MOST_SCENES, { message: `A show has at most ${MOST_SCENES} scenes of its own.` })
  @ArrayUnique(({ id }: SceneInShow) => id)
  @ValidateNested({ each: true })
  @Type(() => SceneInShow)
  scenes: SceneInShow[] = [];

  /** Announcements that were made, by identifier. */
  @IsArray()
  @ArrayMaxSize(60)
  @IsString({ each: true })
  said: string[] = [];

  /** Who may see the show's own page. */
  @IsIn(HOUSE_VISIBILITIES, { message: 'Say who may see the page.' })
  houseVisibility: HouseVisibility = BLANK_SHEET.houseVisibility;

  /** Whether visitors can ask to be reminded by mail. */
  @IsBoolean()
  reminders = BLANK_SHEET.reminders;

  /** Whether the recording takes the picture's place on the page afterwards. */
  @IsBoolean()
  houseReplay = BLANK_SHEET.houseReplay;

  /** Whether each guest's own sound is kept too, of those who agree. */
  @IsBoolean()
  ownSounds = BLANK_SHEET.ownSounds;

  /** Sites that may show the page within theirs, as https://example.org. */
  @IsArray()
  @ArrayMaxSize(20, { message: 'List at most 20 sites.' })
  @Matches(/^https?:\/\/[a-z0-9.-]+(:\d+)?$/i, { each: true, message: 'Write a site as https://example.org, without a path.' })
  embedSites: string[] = [];

  @IsPart(() => MilestoneTimesDraft)
  milestoneTimes: MilestoneTimesDraft = new MilestoneTimesDraft();

  @IsArray()
  @ArrayUnique()
  @IsIn(MILESTONES, { each: true })
  ticked: MilestoneName[] = [];

  /** Fields that were carried over from an earlier date and wait for a look. */
  @IsArray()
  @ArrayMaxSize(20)
  @IsIn(['title', 'description', 'people', 'picture', 'time'], { each: true })
  toLook: FieldToLook[] = [];
}

export type DraftField = keyof ShowDraft;
/** What may differ on one date of a series: a field of the sheet, or the picture. */
export type SeriesField = DraftField | 'thumbnail';

/**
 * What somebody has typed since version `base` of the sheet: whole fields; of `variants` only those that changed.
 * Fields that somebody else changed meanwhile are not overwritten but answered as conflicts.
 */
export class ShowChange {
  @IsInt()
  @Min(0)
  base!: number;

  @IsObject()
  changes!: Partial<ShowDraft>;
}

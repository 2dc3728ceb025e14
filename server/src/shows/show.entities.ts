import type {
  FieldToLook,
  HouseVisibility,
  LetteringView,
  PersonOnShow,
  PictureFrom,
  PostedView,
  PlacingState,
  SeriesField,
  ShowDraft,
  ShowState,
  TrailerView,
} from '@lantern/contract';
import type {
  AiringChoices,
  AiringFacts,
  Announcement,
  ClipInShow,
  Crop,
  Cue,
  Graphic,
  MilestoneName,
  MilestoneTimes,
  PictureRecipe,
  Repeat,
  Scene,
  Visibility,
} from '@lantern/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** The picture of a show as it was chosen; each channel is sent a rendition by its own rules. */
export interface ShowPicture {
  width: number;
  height: number;
  /** Part of the picture's address, so that a new picture is fetched anew. */
  version: string;
  /** What of it each shape takes, suggested or chosen by hand; missing for pictures from before there was a choice. */
  crops?: Record<string, Crop & { byHand: boolean }>;
  /** A difference hash, by which pictures that look alike are known. */
  hash?: string;
  /** The piece of the library that it was taken from. */
  pieceId?: string;
  /** What it is composed from; missing where it came as a file. */
  recipe?: PictureRecipe;
  /** Tells what the recipe was filled with, so that a change of the show is noticed. */
  madeOf?: string;
  /** The letters on it, as measured when it was composed. */
  letters?: LetteringView[];
  /** A waiting picture that is made from the parts of the thumbnail as long as it has none of its own. */
  follows?: boolean;
}

export type Trailer = Omit<TrailerView, 'url'> & { version: string };

@Entity('shows')
export class Show {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  /** The show that this one rehearses: it stands on no channel and in no list. Null: it is a show. */
  @Column('text', { nullable: true }) rehearsalOf!: string | null;
  /** The unguessable end of the house page's address; never changes. */
  @Column('text') slug!: string;
  @Column('text') title!: string;
  @Column('text') description!: string;
  @Column('integer') startsAt!: number;
  @Column('text') zone!: string;
  @Column('integer') lengthMs!: number;
  @Column('text') state!: ShowState;
  @Column('simple-json', { nullable: true }) thumbnail!: ShowPicture | null;
  /** What early viewers see. */
  @Column('simple-json', { nullable: true }) waiting!: ShowPicture | null;
  @Column('text') thumbnailAlternative!: string;
  @Column('text') pictureFrom!: PictureFrom;
  @Column('text', { nullable: true }) outsideLineId!: string | null;
  @Column('text', { nullable: true }) breakMusicId!: string | null;
  @Column('integer', { nullable: true }) onAirSince!: number | null;
  @Column('integer', { nullable: true }) endedAt!: number | null;
  /** Grows with every change of the sheet; `fieldVersions` tells for each field the version in which it last changed, and by whom. */
  @Column('integer') version!: number;
  @Column('simple-json') fieldVersions!: Record<string, { version: number; by: string }>;
  @Column('text', { nullable: true }) changedBy!: string | null;
  @Column('integer') changedAt!: number;
  @Column('simple-json') people!: PersonOnShow[];
  /** Where the cameras stand. */
  @Column('text') room!: string;
  @Column('integer', { nullable: true }) episode!: number | null;
  /** What differs from the station's times. */
  @Column('simple-json') milestoneTimes!: Partial<MilestoneTimes>;
  @Column('simple-json') ticked!: MilestoneName[];
  @Column('simple-json') toLook!: FieldToLook[];
  /** A short end of an address that leads to the page, where that is for everyone; never changes. */
  @Column('text') short!: string;
  @Column('simple-json') announcements!: Announcement[];
  @Column('simple-json') cues!: Cue[];
  @Column('simple-json') graphics!: Graphic[];
  @Column('simple-json') clips!: ClipInShow[];
  /** Those that are other than the station's. */
  @Column('simple-json') scenes!: Scene[];
  /** Those that were made, by identifier. */
  @Column('simple-json') said!: string[];
  /** What became of those that a channel was to make, by identifier. */
  @Column('simple-json') posted!: Record<string, PostedView>;
  /** Whether the recording takes the picture's place on the page afterwards. */
  @Column('boolean') houseReplay!: boolean;
  @Column('boolean') ownSounds!: boolean;
  @Column('simple-json', { nullable: true }) trailer!: Trailer | null;
  /** What its break card is made of; null: none has been made. */
  @Column('text', { nullable: true }) breakCard!: string | null;
  /** When it was drafted. */
  @Column('integer') madeAt!: number;
  /** When it was first placed anywhere. */
  @Column('integer', { nullable: true }) placedAt!: number | null;
  /** Who may see the show's own page. */
  @Column('text') houseVisibility!: HouseVisibility;
  /** Whether visitors can ask to be reminded. */
  @Column('boolean') reminders!: boolean;
  /** Sites that may show the page within theirs. */
  @Column('simple-json') embedSites!: string[];
  /** The series that it is one date of, and that date by the rule. */
  @Column('text', { nullable: true }) seriesId!: string | null;
  @Column('text', { nullable: true }) seriesDate!: string | null;
  /** What differs on this date from the rest of its series. */
  @Column('simple-json') differs!: SeriesField[];
}

/** A show that repeats: its rule, and what its coming dates are made from. */
@Entity('series')
export class Series {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('simple-json') repeat!: Repeat;
  /** Wall time of the start, HH:MM in `zone`. */
  @Column('text') time!: string;
  @Column('text') zone!: string;
  @Column('boolean') placesByItself!: boolean;
  /** What each date begins as; its date, time and episode are its own. */
  @Column('simple-json') pattern!: ShowDraft;
  /** The picture that the dates share; its file goes by the id of the series. */
  @Column('simple-json', { nullable: true }) picture!: ShowPicture | null;
  @Column('simple-json', { nullable: true }) waiting!: ShowPicture | null;
}

/** A prepared show to start from. */
@Entity('templates')
export class Template {
  @PrimaryColumn('text') id!: string;
  @Column('text') stationId!: string;
  @Column('text') name!: string;
  @Column('simple-json') pattern!: ShowDraft;
  /** Its file goes by the id of the template. */
  @Column('simple-json', { nullable: true }) picture!: ShowPicture | null;
  @Column('simple-json', { nullable: true }) waiting!: ShowPicture | null;
}

/** One show on one channel. */
@Entity('airings')
export class Airing {
  @PrimaryColumn('text') id!: string;
  @Column('text') showId!: string;
  @Column('text') channelId!: string;
  @Column('text') placing!: PlacingState;
  /** The start that the channel was told; null: none, or at once. */
  @Column('integer', { nullable: true }) placedAt!: number | null;
  /** Who may see it there, as the channel was told. */
  @Column('text') visibility!: Visibility;
  /** The line that was chosen; null: the channel's only or first one. */
  @Column('text', { nullable: true }) lineId!: string | null;
  /** The variant of the text for this channel; null: the common one. */
  @Column('text', { nullable: true }) title!: string | null;
  @Column('text', { nullable: true }) description!: string | null;
  /** What the show asks of this channel beyond the channel's defaults. */
  @Column('simple-json') choices!: AiringChoices;
  /** What the channel was last told, and which picture; null: nothing. */
  @Column('simple-json', { nullable: true }) told!: AiringFacts | null;
  @Column('text', { nullable: true }) toldPicture!: string | null;
  @Column('text', { nullable: true }) toldChoices!: string | null;
  /** How often it was withdrawn and placed anew. */
  @Column('integer') round!: number;
  /** What stood there when it was last looked at; with `gone`, nothing did any more. */
  @Column('simple-json', { nullable: true }) seen!: AiringFacts | null;
  @Column('integer', { nullable: true }) seenAt!: number | null;
  @Column('boolean') gone!: boolean;
  /** The event's identifier on the network. */
  @Column('text', { nullable: true }) remoteId!: string | null;
  @Column('text', { nullable: true }) watchUrl!: string | null;
  @Column('text') refusal!: string;
  /** What the network said when the airing was ended. */
  @Column('text') endWords!: string;
}

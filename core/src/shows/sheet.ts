// What a show's sheet consists of: one table, from which every list of its fields follows. A new field is a line here, a column of the
// show, a rule at the endpoint and something to type it into.
import type { AiringChoices } from '../channels/defaults';
import type { Announcement } from '../readiness/announcements';
import type { MilestoneName, MilestoneTimes } from '../readiness/milestones';
import type { Cue } from '../running-order/times';
import type { ClipInShow } from '../scenes/clips';
import type { Graphic } from '../scenes/graphics';
import { plainScene, type Scene } from '../scenes/scene';
import { MINUTE_MS } from '../time/instant';
import { whenOf, type When } from '../time/start';

/** Where the picture comes from: this product's stage, an outside line of ours, or an outside encoder that sends straight to each channel. */
export const PICTURES_FROM = ['stage', 'outside line', 'encoder'] as const;
export type PictureFrom = (typeof PICTURES_FROM)[number];
/** What was carried over from an earlier date and waits for a look. */
export type FieldToLook = 'title' | 'description' | 'people' | 'picture' | 'time';
/** Who may see a show's own page. Link holders: it is listed nowhere, and its address cannot be guessed. */
export const HOUSE_VISIBILITIES = ['everyone', 'link holders', 'invited people', 'supporters'] as const;
export type HouseVisibility = (typeof HOUSE_VISIBILITIES)[number];

/** Somebody who is on the picture. `zone`: where they are, as an IANA zone; null: with the show. */
export interface Billed {
  name: string;
  role: 'host' | 'guest';
  zone: string | null;
  /** What stands beneath their name on the picture, pronouns if they wish; missing: nothing, and of a host the station. */
  caption?: string;
}

/** How one channel's airing differs from the common words. Null: it does not. */
export interface Variant {
  channelId: string;
  title: string | null;
  description: string | null;
  choices: AiringChoices;
}

/** Everything that is typed about a show. `lengthMin`: minutes; dates as YYYY-MM-DD, times as HH:MM, zones by their IANA names. */
export interface SheetValues extends When {
  title: string;
  description: string;
  zone: string;
  lengthMin: number;
  channelIds: string[];
  lines: { channelId: string; lineId: string }[];
  pictureFrom: PictureFrom;
  /** The outside line on which it comes; null: none is chosen, or it comes from elsewhere. */
  outsideLineId: string | null;
  /** The sound that is heard while viewers see the break card; null: none is. */
  breakMusicId: string | null;
  thumbnailAlternative: string;
  variants: Variant[];
  people: Billed[];
  room: string;
  episode: number | null;
  announcements: Announcement[];
  cues: Cue[];
  graphics: Graphic[];
  clips: ClipInShow[];
  /** Scenes that are other than the station's of the same name in this show. */
  scenes: Scene[];
  said: string[];
  houseVisibility: HouseVisibility;
  reminders: boolean;
  houseReplay: boolean;
  /** Whether each guest's own sound is kept too, of those who agree. */
  ownSounds: boolean;
  embedSites: string[];
  milestoneTimes: Partial<MilestoneTimes>;
  ticked: MilestoneName[];
  toLook: FieldToLook[];
}

/** Where a field is kept: with the show under its own name, in its start, in its length, or with its airings. */
type Kept = 'own' | 'start' | 'length' | 'airings';

interface Field<Value> {
  /** What it is called where somebody reads that it changed. */
  words: string;
  kept: Kept;
  /** What a new sheet has; missing: there is no sheet without it. */
  blank?: Value;
  /** As it is kept: without what surrounds a text. */
  tidy?: (value: Value) => Value;
  /** Each date's own: no difference from the rest of a series. */
  ofOneDate?: true;
  /** May still be put right while a show is on air. */
  onAirToo?: true;
}

const trimmed = (text: string) => text.trim();

export const SHEET = {
  title: { words: 'title', kept: 'own', tidy: trimmed, onAirToo: true },
  description: { words: 'text', kept: 'own', blank: '', tidy: trimmed, onAirToo: true },
  date: { words: 'date', kept: 'start' },
  time: { words: 'time', kept: 'start' },
  zone: { words: 'zone', kept: 'start' },
  fold: { words: 'time', kept: 'start', blank: null, ofOneDate: true },
  lengthMin: { words: 'length', kept: 'length', blank: 60 },
  channelIds: { words: 'channels', kept: 'airings', blank: [] },
  lines: { words: 'lines', kept: 'airings', blank: [] },
  pictureFrom: { words: 'source of the picture', kept: 'own', blank: 'stage' },
  outsideLineId: { words: 'outside line', kept: 'own', blank: null },
  breakMusicId: { words: 'music of the break card', kept: 'own', blank: null },
  thumbnailAlternative: { words: 'words for the picture', kept: 'own', blank: '', tidy: trimmed, onAirToo: true },
  variants: { words: 'words for one channel', kept: 'airings', blank: [], onAirToo: true },
  people: {
    words: 'people',
    kept: 'own',
    blank: [],
    tidy: (people) => people.map(({ name, role, zone, caption }) => ({ name: name.trim(), role, zone, ...(caption?.trim() && { caption: caption.trim() }) })),
  },
  room: { words: 'room', kept: 'own', blank: '', tidy: trimmed },
  episode: { words: 'episode', kept: 'own', blank: null, ofOneDate: true },
  announcements: {
    words: 'announcements',
    kept: 'own',
    blank: [],
    tidy: (all) => all.map(({ id, place, text, time, channelId }) => ({ id, place: place.trim(), text, time, channelId })),
    onAirToo: true,
  },
  cues: {
    words: 'running order',
    kept: 'own',
    blank: [],
    tidy: (all) =>
      all.map(({ id, name, lengthS, hardAt, who, notes, scene }) => ({
        ...{ id, name: name.trim(), lengthS, hardAt, who: who.trim(), notes: notes.trim() },
        ...(scene && { scene }),
      })),
    onAirToo: true,
  },
  graphics: {
    words: 'graphics',
    kept: 'own',
    blank: [],
    tidy: (all) =>
      all.map(({ id, kind, text, more, hidesAfterS, cue, lookedAtFor }) => ({ id, kind, text: text.trim(), more: more.trim(), hidesAfterS, cue, lookedAtFor })),
    onAirToo: true,
  },
  clips: { words: 'clips', kept: 'own', blank: [], tidy: (all) => all.map(({ id, from, item, cue, then }) => ({ id, from, item, cue, then })), onAirToo: true },
  scenes: { words: 'scenes', kept: 'own', blank: [], tidy: (all) => all.map(plainScene), onAirToo: true },
  said: { words: 'announcements', kept: 'own', blank: [], ofOneDate: true, onAirToo: true },
  houseVisibility: { words: 'visibility of the house page', kept: 'own', blank: 'everyone' },
  reminders: { words: 'reminders', kept: 'own', blank: true },
  houseReplay: { words: 'replay on the house page', kept: 'own', blank: true, onAirToo: true },
  ownSounds: { words: 'own sound of guests', kept: 'own', blank: false },
  embedSites: { words: 'sites that may embed', kept: 'own', blank: [] },
  milestoneTimes: { words: 'milestones', kept: 'own', blank: {}, tidy: (times) => ({ ...times }) },
  ticked: { words: 'milestones', kept: 'own', blank: [], ofOneDate: true, onAirToo: true },
  toLook: { words: 'look', kept: 'own', blank: [], ofOneDate: true },
} as const satisfies { [Name in keyof SheetValues]: Field<SheetValues[Name]> };

export type SheetField = keyof SheetValues;
/** The fields that are kept with a show under their own names. */
export type OwnField = { [Name in SheetField]: (typeof SHEET)[Name]['kept'] extends 'own' ? Name : never }[SheetField];
export type OwnValues = Pick<SheetValues, OwnField>;
/** What a show's row keeps of its sheet. `startsAt`: instant in ms; `lengthMs`: ms. */
export type KeptOfSheet = OwnValues & { startsAt: number; zone: string; lengthMs: number };

const fieldOf = (name: SheetField) => SHEET[name] as unknown as Field<unknown>;
export const SHEET_FIELDS = Object.keys(SHEET) as SheetField[];
export const OWN_FIELDS = SHEET_FIELDS.filter((name): name is OwnField => SHEET[name].kept === 'own');

/** A sheet on which nothing but the title and the time has been written. */
export const BLANK_SHEET = Object.fromEntries(
  SHEET_FIELDS.filter((name) => 'blank' in SHEET[name]).map((name) => [name, fieldOf(name).blank]),
) as unknown as Omit<SheetValues, 'title' | 'date' | 'time' | 'zone'>;

/** The fields that are kept under their own names, of whatever has them. */
export function ownValues(from: OwnValues): OwnValues {
  return Object.fromEntries(OWN_FIELDS.map((name) => [name, from[name]])) as unknown as OwnValues;
}

/** A sheet as it is kept. Fields of which nothing was said stay as they are. */
export function tidied<Sheet extends Partial<SheetValues>>(sheet: Sheet): Sheet {
  const tidy = (name: string, value: unknown): unknown => {
    const by = name in SHEET ? fieldOf(name as SheetField).tidy : undefined;
    return by && value !== undefined ? by(value) : value;
  };
  return Object.fromEntries(Object.entries(sheet).map(([name, value]) => [name, tidy(name, value)])) as Sheet;
}

/** What a show's sheet says of one channel. */
export interface SheetOfAiring extends Variant {
  lineId: string | null;
}

/** The sheet of a show, from what is kept of it. */
export function sheetOf(show: KeptOfSheet, airings: readonly SheetOfAiring[]): SheetValues {
  return {
    ...ownValues(show),
    ...whenOf(show.startsAt, show.zone),
    zone: show.zone,
    lengthMin: Math.round(show.lengthMs / MINUTE_MS),
    channelIds: airings.map(({ channelId }) => channelId),
    lines: airings.flatMap(({ channelId, lineId }) => (lineId === null ? [] : [{ channelId, lineId }])),
    variants: airings.flatMap(({ channelId, title, description, choices }) =>
      title === null && description === null && !Object.keys(choices).length ? [] : [{ channelId, title, description, choices }],
    ),
  };
}

/** The columns of a show's row in which fields are kept. What belongs to airings is not among them. */
export function columnsFor(fields: readonly SheetField[]): (keyof KeptOfSheet)[] {
  const columns: Record<Kept, (name: SheetField) => (keyof KeptOfSheet)[]> = {
    own: (name) => [name as OwnField],
    start: () => ['startsAt', 'zone'],
    length: () => ['lengthMs'],
    airings: () => [],
  };
  return [...new Set(fields.flatMap((name) => columns[SHEET[name].kept](name)))];
}

/** Date, time and zone are one thing: a new date beside somebody else's new time would be neither's. */
const WHEN = ['date', 'time', 'zone'] as const;

/** The fields that change with this one, itself among them. */
export function changedTogether(name: string): readonly string[] {
  return (WHEN as readonly string[]).includes(name) ? WHEN : [name];
}

/** Whether a field is said anew for each date of a series. */
export const isOfOneDate = (name: SheetField): boolean => fieldOf(name).ofOneDate ?? false;

/** Whether a field may still be put right while its show is on air. */
export const isChangedOnAir = (name: string): boolean => (name in SHEET ? (fieldOf(name as SheetField).onAirToo ?? false) : false);

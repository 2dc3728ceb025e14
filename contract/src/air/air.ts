// What the stage and the server say to each other while a show is on air.
import type { Behind, CueRan, HandOver, Lamp, LastHour, OutsideFacts, SceneId, SourceId, SwitchReason } from '@lantern/core';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsInt, IsOptional, IsUUID, Matches, Max, Min, ValidateIf } from 'class-validator';
import type { ChannelIdentity } from '../channels/channels';
import type { GuestOrder, GuestSignal, GuestThere, WayThrough } from '../guests/guests';
import type { ShowState } from '../shows/states';

/** What is sent to try how fast a line is. */
export const UPLINK_TRIAL_BYTES = 2_000_000;

export interface AiringOnAirView {
  airingId: string;
  /** Who speaks there. */
  channel: ChannelIdentity;
  channelName: string;
  network: string;
  lamp: Lamp;
  words: string;
  /** What its network will do by itself to a show that goes on, the nearest first, in words. */
  ahead: string[];
  /** Left out at the start: it can be begun by another press. */
  heldBack: boolean;
  /** Its event has ended there, or was refused: another can be made by a press. */
  mayBeMadeAnew: boolean;
  watching: number | null;
  /** How late viewers see it there, measured or as its network says; null: nobody knows, or it is not public. */
  behind: Behind | null;
  /** What is made for the channel, which takes less than goes out, in words with what it costs; empty: nothing. */
  rendition: string;
  watchUrl: string | null;
}

export interface StageHolder {
  personId: string;
  name: string;
  /** Whether their stage is connected at this moment. */
  connected: boolean;
  /** Whether their own microphone is switched on. */
  microphoneOn: boolean;
  /** False: they went on air from where no picture is made, and nobody's stage has sent yet. */
  hasSent: boolean;
}

/** An outside line on which something comes. `words`: what is to be known of it, the first for the host. */
export interface OutsideOnAir {
  id: string;
  name: string;
  facts: OutsideFacts;
  normalised: boolean;
  words: string[];
}

/** What has arrived by the way that a show takes to its channels. */
export interface FarEndView {
  facts: OutsideFacts;
  /** Whether it comes at this moment. */
  arrives: boolean;
}

/** A show on air, as every planning page carries it along. */
export interface OnAirSummary {
  showId: string;
  title: string;
  onAirSince: number;
  watching: number;
  state: 'onAir' | 'interrupted';
  /** It is rehearsed: nothing of it goes out. */
  rehearsal: boolean;
}

export interface AirView {
  showState: ShowState;
  /** Who has told it to go on air by itself at its time; null: it waits for a press. */
  startsBy: string | null;
  /** When the show went on air; null before. */
  onAirSince: number | null;
  programme: SceneId;
  /** The cues of the running order that have been begun, as they were. */
  ran: CueRan[];
  /** Which outside line every stage of the show has to show on the scenes that have one; null: none. */
  lineOnStage: string | null;
  /** What is laid over the picture; null: nothing. */
  graphic: string | null;
  /** What viewers see: the stage's picture, or the break card; null: nothing yet, or the show is not on air. */
  source: SourceId | null;
  sourceReason: SwitchReason;
  /** What a person wants to be seen: the break card where they broke. */
  chosen: SourceId;
  /** When a break ends, as the card says; null: it does not say. */
  backAt: number | null;
  /** Of a rehearsal, what arrives at the end of the way that a show takes to its channels; null: it is none, or nothing has arrived yet. */
  farEnd: FarEndView | null;
  /** Since when viewers have seen the break card; null: they do not. */
  cardSince: number | null;
  /** Whether pictures from a stage are arriving at the server at this moment. */
  stageArrives: boolean;
  /** Whose stage the pictures come from; null: nobody's yet, or the show is not on air. */
  holder: StageHolder | null;
  /** Whether this very stage is the one. Always false where it is asked for by a page that is no stage. */
  holdsIt: boolean;
  /** What comes on the station's outside lines at this moment. */
  lines: OutsideOnAir[];
  /** How many have the house page open. */
  houseWatching: number;
  /** What is said of the machine's disk where it matters to the show; empty: nothing. */
  roomWords: string;
  recordedMs: number;
  airings: AiringOnAirView[];
  /** When the planning server said how the channels stand: older than `now` while it is away. */
  plannedAt: number;
  /** The server's clock, so that countdowns agree everywhere. */
  now: number;
}

/** Of going on air: in which tab it was pressed, so that this one may send; null: from where no picture is made. */
export class BeginAir {
  @IsOptional() @Matches(/^[0-9a-zA-Z-]{8,64}$/) tab!: string | null;
  /** The airings that begin now; the others are held back until they are begun one by one. Missing: all. */
  @IsOptional() @IsArray() @ArrayMinSize(1, { message: 'Choose at least one channel.' }) @ArrayMaxSize(200) @IsUUID('all', { each: true }) only?: string[];
}

/** How a show goes out, as the stage that sends it measures it: of the last seconds the worst. Null: not measured. */
export class SignalTold {
  @ValidateIf((_, value) => value !== null)
  @IsInt()
  @Min(0)
  @Max(240)
  pictures!: number | null;

  @ValidateIf((_, value) => value !== null)
  @IsInt()
  @Min(0)
  @Max(1_000_000)
  kbps!: number | null;
}

/** The longest piece that a stage may send, in bytes. */
export const PIECE_MAX_BYTES = 8_000_000;

/** Each binary message starts with two 32-bit big-endian numbers: the stretch and the piece's place in it, from 0. */
export const PIECE_HEAD_BYTES = 8;

/** From the stage. A stretch is one unbroken run of pieces from one recorder. */
/** `takeOver`: a person has asked for it here; without, only the stage that has the show already may go on. */
export type StageMessage =
  | { type: 'newStretch'; takeOver?: boolean }
  | { type: 'continueStretch'; stretch: number }
  | ({ type: 'command'; number: number } & StageCommand)
  /** `id`: which graphic, which scene. */
  | { type: 'ask'; what: Asked; id?: string }
  | { type: 'microphone'; on: boolean }
  /** Whether a screen, a window or a tab is shared from this browser. */
  | { type: 'sharing'; on: boolean }
  /** This load of the stage's page can take guests in. */
  | { type: 'guestsHere'; page: string }
  | { type: 'guest'; id: string; order: GuestOrder }
  | { type: 'guestSignal'; to: string; data: GuestSignal }
  /** Which guests are on the scene and on the next, by identifier. */
  | { type: 'guestPlaces'; places: Record<string, { onScene: boolean; onNext: boolean }> }
  /** The stage goes from one to another, and both say so. `offer`: to one of those that could take it. */
  | { type: 'handOver'; does: 'ask' | 'agree' | 'decline' }
  | { type: 'handOver'; does: 'offer'; to: string }
  /** What is laid over the picture and what is played, by their identifiers. */
  | { type: 'shown'; graphic: string | null; clip: string | null };

/** What is pressed on a stage (`cue`: the cue that begins with it; `bring`: which outside line stands on it): numbered by its tab, said again until it is acknowledged, done once. `backAt` in ms since the epoch. */
export type StageCommand =
  | { does: 'take'; scene: SceneId; cue?: string | null }
  | { does: 'bring'; line: string | null }
  | { does: 'break'; backAt: number | null }
  | { does: 'resume' }
  | { does: 'choose'; source: SourceId };

/** What a stage that does not send may ask of the one that does: the least that is needed from a phone in the hall. */
export const ASKED = ['take the holding card', 'microphone off', 'microphone on', 'show graphic', 'hide graphic', 'next scene'] as const;
export type Asked = (typeof ASKED)[number];
/** Of these, what anybody of the station may ask for who helps. */
export const HELP: readonly Asked[] = ['show graphic', 'hide graphic', 'next scene'];

/** To the stage; beside these, of the line that stands on it each tag as it comes, binary, as FLV has it (E.4.1): its configuration first. */
export type ServerMessage =
  | { type: 'air'; air: AirView }
  | { type: 'stretch'; stretch: number; nextPiece: number }
  | { type: 'kept'; stretch: number; upTo: number }
  | { type: 'refused'; words: string }
  /** All commands of this tab up to this number have been done, or were refused. */
  | { type: 'done'; upTo: number }
  /** Somebody has taken the stage from here. */
  | { type: 'lost'; to: string }
  | { type: 'asked'; what: Asked; by: string; id?: string }
  /** Said with each `air`. `couldTake`: the other stages to which this one can hand over; empty where it has nothing to give. */
  | { type: 'handing'; handing: HandingView | null; couldTake: OtherStage[] }
  /** A hand-over has not come about, or no longer will. */
  | { type: 'notHanded'; words: string }
  /** Who is in the green room. */
  | { type: 'guests'; guests: GuestThere[] }
  | { type: 'guestSignal'; from: string; data: GuestSignal }
  /** By which ways guests' browsers are reached. */
  | { type: 'guestWays'; ways: WayThrough[]; relayOnly: boolean }
  /** Somebody has come who sees nothing of the return before a key frame. */
  | { type: 'returnKey' };

/** The stage as it is handed over. `part`: what this very stage has to do with it. */
export interface HandingView {
  state: HandOver['state'];
  part: 'gives' | 'takes' | 'looks on';
  from: string;
  to: string;
}

export interface OtherStage {
  id: string;
  /** Whose it is. */
  name: string;
}

export interface WrapResult {
  results: { airingId: string; channelName: string; done: boolean; words: string }[];
}

/** How many watch: as each network tells it, and at the house page as counted here. */
export interface WatchingView {
  channels: { channelId: string; name: string; hour: LastHour }[];
  together: LastHour;
  /** Who has the house page open; they are in no other figure. */
  house: number;
  /** By the server's clock, in ms. */
  now: number;
}

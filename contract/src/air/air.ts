// What the stage and the server say to each other while a show is on air.
import type { Lamp, SceneId } from '@lantern/core';
import type { ChannelIdentity } from '../channels/channels';
import type { ShowState } from '../shows/states';

export interface AiringOnAirView {
  airingId: string;
  /** Who speaks there. */
  channel: ChannelIdentity;
  channelName: string;
  network: string;
  lamp: Lamp;
  words: string;
  watching: number | null;
  watchUrl: string | null;
}

export interface StageHolder {
  personId: string;
  name: string;
  /** Whether their stage is connected at this moment. */
  connected: boolean;
  /** Whether their own microphone is switched on. */
  microphoneOn: boolean;
}

/** A show on air, as every planning page carries it along. */
export interface OnAirSummary {
  showId: string;
  title: string;
  onAirSince: number;
  watching: number;
  state: 'onAir' | 'interrupted';
}

export interface AirView {
  showState: ShowState;
  /** When the show went on air; null before. */
  onAirSince: number | null;
  programme: SceneId;
  /** Whether pictures from a stage are arriving at the server at this moment. */
  stageArrives: boolean;
  /** Whose stage the pictures come from; null: nobody's yet, or the show is not on air. */
  holder: StageHolder | null;
  /** Whether this very stage is the one. Always false where it is asked for by a page that is no stage. */
  holdsIt: boolean;
  /** How many have the house page open. */
  houseWatching: number;
  /** What is said of the machine's disk where it matters to the show; empty: nothing. */
  roomWords: string;
  recordedMs: number;
  airings: AiringOnAirView[];
  /** The server's clock, so that countdowns agree everywhere. */
  now: number;
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
  | { type: 'take'; scene: SceneId }
  | { type: 'ask'; what: Asked }
  | { type: 'microphone'; on: boolean };

/** What a stage that does not send may ask of the one that does: the least that is needed from a phone in the hall. */
export type Asked = 'take the holding card' | 'microphone off' | 'microphone on';
export const ASKED: readonly Asked[] = ['take the holding card', 'microphone off', 'microphone on'];

/** To the stage. */
export type ServerMessage =
  | { type: 'air'; air: AirView }
  | { type: 'stretch'; stretch: number; nextPiece: number }
  | { type: 'kept'; stretch: number; upTo: number }
  | { type: 'refused'; words: string }
  | { type: 'asked'; what: Asked; by: string };

export interface WrapResult {
  results: { airingId: string; channelName: string; done: boolean; words: string }[];
}

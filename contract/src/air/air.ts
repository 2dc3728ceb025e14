// What the stage and the server say to each other while a show is on air.
import type { Lamp, SceneId } from '@lantern/core';
import type { ChannelIdentity } from '../channels/channels';
import type { ShowState } from '../shows/shows';

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

export interface AirView {
  showState: ShowState;
  /** When the show went on air; null before. */
  onAirSince: number | null;
  programme: SceneId;
  /** Whether pictures from a stage are arriving at the server at this moment. */
  stageArrives: boolean;
  /** Another stage has the show: its pictures go out, not this one's. */
  stageElsewhere: boolean;
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
export type StageMessage = { type: 'newStretch' } | { type: 'continueStretch'; stretch: number } | { type: 'take'; scene: SceneId };

/** To the stage. */
export type ServerMessage =
  | { type: 'air'; air: AirView }
  | { type: 'stretch'; stretch: number; nextPiece: number }
  | { type: 'kept'; stretch: number; upTo: number }
  | { type: 'refused'; words: string };

export interface WrapResult {
  results: { airingId: string; channelName: string; done: boolean; words: string }[];
}

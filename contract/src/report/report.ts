// The figures of a past show.
import type { SignalSample } from '@lantern/core';
import { IsBoolean } from 'class-validator';

/** Whether the recording may be seen on the station's own page. */
export class ReplayRequest {
  @IsBoolean()
  shown!: boolean;
}

export interface AiringReport {
  airingId: string;
  channelName: string;
  /** Whether the channel tells how it stood; where it does not, `litMs` is how long the picture was sent. */
  tells: boolean;
  network: string;
  litMs: number;
  faultMs: number;
  /** Null where the network does not tell how many watch. */
  peakWatching: number | null;
  endWords: string;
  curve: { at: number; watching: number }[];
}

export interface ShowReport {
  showId: string;
  /** The show that it rehearsed; null: it was a show. */
  rehearsalOf: string | null;
  title: string;
  startsAt: number;
  zone: string;
  startedAt: number | null;
  endedAt: number | null;
  /** From going on air to wrapping up. */
  lengthMs: number;
  plannedMs: number;
  peakTogether: number | null;
  airings: AiringReport[];
  /** The cues as they really ran. `at`: in ms since it went on air; `lengthMs` null: it was the last. */
  ran: { name: string; at: number; lengthMs: number | null; plannedMs: number | null }[];
  /** How it went out, as the stages that sent it measured it. */
  signal: SignalSample[];
  /** The recording on the station's own page: whether it is shown, and until when; null: without end. */
  replay: { shown: boolean; until: number | null; pageUrl: string };
  recording: { state: 'none' | 'making' | 'ready' | 'failed'; url: string | null; lengthMs: number; words: string; canTryAgain: boolean };
}

// The figures of a past show.
import type { Chapter, ShowPart, SignalSample } from '@lantern/core';
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
  /** What all who watched there watched, in ms, and how many that were on average while it was told; null: its network does not tell. */
  watchedMs: number | null;
  averageWatching: number | null;
  /** Null: nobody has asked for it, or its network tells none. */
  plays: PlaysOfAiring | null;
}

/** How often an airing was played, as its network told. `days`: what it had counted in all, on each day since the end. */
export interface PlaysOfAiring {
  days: { day: number; live: number | null; since: number | null }[];
  /** Null: it has told nothing yet. */
  toldAt: number | null;
  trouble: string;
}

/** How often the house page was opened and played. `from`: by what, the most first; '' where nobody knows. `playsByDay`: since the end. */
export interface HouseCounts {
  opened: { before: number; live: number; since: number };
  playsLive: number;
  playsByDay: number[];
  from: { source: string; count: number }[];
}

/** How many wrote, asked, voted on and came. Kept beyond what they wrote, which goes after thirty days. */
export interface PeopleCounts {
  messages: number;
  questions: number;
  answered: number;
  polls: number;
  /** Who asked to be reminded and has confirmed it. */
  registered: number;
  invited: number;
  /** Of those invited, who had the house page open while it was on air. */
  came: number;
}

/** One moment of a show. `by`: how many watched on each airing, in their order; null: its network did not tell then. */
export interface WatchingMoment {
  at: number;
  by: (number | null)[];
}

/** When most came, or most went. */
export interface ReportMoment {
  from: number;
  to: number;
  by: number;
  words: string;
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
  people: PeopleCounts;
  airings: AiringReport[];
  house: HouseCounts;
  /** The cues as they really ran. `at`: in ms since it went on air; `lengthMs` null: it was the last. */
  ran: { name: string; at: number; lengthMs: number | null; plannedMs: number | null }[];
  /** How many watched, at moments that are the same for all airings. */
  watching: WatchingMoment[];
  /** Breaks, and channels in trouble, with their names. */
  parts: ShowPart[];
  moments: ReportMoment[];
  /** Of its recording; none: it is not there, or nobody knows what stands where in it. */
  chapters: Chapter[];
  /** How it went out, as the stages that sent it measured it. */
  signal: SignalSample[];
  /** The recording on the station's own page: whether it is shown, and until when; null: without end. */
  replay: { shown: boolean; until: number | null; pageUrl: string };
  recording: { state: 'none' | 'making' | 'ready' | 'failed'; url: string | null; lengthMs: number; words: string; canTryAgain: boolean };
}

/** One show among those that are compared; null: it is not known, or not any more. */
export interface ComparedShow {
  showId: string;
  title: string;
  startsAt: number;
  zone: string;
  lengthMs: number;
  peak: number | null;
  /** How many watched on average while it was told, on all channels together. */
  average: number | null;
  messages: number | null;
  questions: number | null;
}

/** The show itself, and earlier ones of its series or of its name, the latest first. */
export interface Comparison {
  own: ComparedShow;
  earlier: ComparedShow[];
}

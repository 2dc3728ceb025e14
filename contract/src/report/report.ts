// The figures of a past show.
export interface AiringReport {
  airingId: string;
  channelName: string;
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
  recording: { state: 'none' | 'making' | 'ready' | 'failed'; url: string | null; lengthMs: number; words: string };
}

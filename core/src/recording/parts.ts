// Where things stand in a recording.
/** A stretch of a recording: from `fromMs` of the programme's time on, at `atMs` of the recording's, for so long. In ms, in order of time. */
export interface RecordedPart {
  fromMs: number;
  atMs: number;
  lengthMs: number;
}

/** Where in the recording a moment of the programme stands, in ms; one that was not recorded, where the recording goes on after it; null: never more. */
export function inRecording(parts: readonly RecordedPart[], programmeMs: number): number | null {
  for (const { fromMs, atMs, lengthMs } of parts) if (programmeMs < fromMs + lengthMs) return atMs + Math.max(0, programmeMs - fromMs);
  return null;
}

/** A passage of a recording, in ms of it: from the picture at `fromMs` up to, and without, that at `toMs`. */
export interface Passage {
  fromMs: number;
  toMs: number;
}

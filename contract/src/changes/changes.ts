/** What changed at a station, as its pages hear it: what they show of it is to be asked for anew. */
export interface StationChanges {
  /** Shows whose sheet, airings or pictures changed, or that came or went. */
  shows: string[];
  /** Shows that stand otherwise on air. */
  air: string[];
  /** Shows whose recording came to be, or failed. */
  recordings: string[];
  /** Shows whose questions changed. */
  questions: string[];
  /** Shows to which something was written, or of which a message changed. */
  messages: string[];
  /** Shows of which a poll changed, or got votes. */
  polls: string[];
  channels: boolean;
  library: boolean;
  jobs: boolean;
  /** Who belongs to the station. */
  team: boolean;
}

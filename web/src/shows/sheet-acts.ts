// What the parts of the sheet can have done to it, and what comes back.
import type { ChannelResult, PlaceResult, ShowDraft } from '@lantern/contract';

/** Puts values into fields of the sheet; they are kept like typed ones. */
export type Put = (changes: Partial<ShowDraft>) => void;

/** Keeps the sheet, then asks the server and the channels for something. */
export type Run = (work: () => Promise<Partial<PlaceResult>>) => Promise<void>;

/** What the server and the channels answered to the last press of a button. */
export interface Outcome {
  refused: string;
  results: ChannelResult[];
}

// The own sound of each guest: their voice apart from everybody else's, taken in their own browser while viewers hear them, if the host wants it
// and they agree.
import { IsBoolean } from 'class-validator';
import { PassShown } from '../people/team';

/** Where a take is asked about (HEAD) and sent (PATCH) with Upload-Offset; it goes by when it began, in ms of the server's clock. */
export const ownSoundPath = (beganAt: number): string => `/api/door/own-sound/${beganAt}`;
/** Where the pass is shown with it: what is in an address is in logs. */
export const GUEST_PASS_HEADER = 'x-guest-pass';
/** The most of one request. */
export const OWN_SOUND_PIECE_BYTES = 1_000_000;
/** What browsers record, by what its file ends in. */
export const OWN_SOUND_TYPES = { webm: 'audio/webm', mp4: 'audio/mp4' } as const;
/** After the end what is still on its way is waited for so long, in ms. */
export const OWN_SOUND_LATE_MS = 3_600_000;

/** What a guest has said to it. */
export type OwnSoundConsent = 'unasked' | 'agreed' | 'refused';

export class OwnSoundSaid extends PassShown {
  /** No: what was kept is removed. */
  @IsBoolean()
  agrees!: boolean;
}

/** What is kept of one guest. */
export interface OwnSoundView {
  guestId: string;
  name: string;
  /** `waits`: for the recording, beside which it is laid. */
  state: 'waits' | 'making' | 'ready' | 'failed';
  /** Where it failed, why. */
  words: string;
  /** How much of it came. */
  receivedBytes: number;
  /** Of the file that is ready; as long as the recording. */
  url: string | null;
  bytes: number;
}

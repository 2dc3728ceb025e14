// Prepared sound: brought into the library once, and made ready by the server to be played into a show.
import { IsString, MaxLength, MinLength } from 'class-validator';

/** Of a sound, in bytes as it comes, and in ms as it is kept. */
export const SOUND_MAX_BYTES = 200_000_000;
export const SOUND_MAX_MS = 900_000;

export class ClipChange {
  @IsString()
  @MinLength(1, { message: 'Give it a name.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  /** Whose it is, and by what right it is played. */
  @IsString()
  @MaxLength(200, { message: 'Keep it to 200 characters.' })
  rights!: string;
}

export interface ClipView {
  id: string;
  name: string;
  rights: string;
  state: 'making' | 'ready' | 'failed';
  /** Why it could not be made ready; empty otherwise. */
  words: string;
  lengthMs: number;
  /** How loud it came, in LUFS (ITU-R BS.1770-5); null: that is not known yet. */
  cameAt: number | null;
  /** How many dB louder it is played than it came. */
  gainDb: number;
  addedAt: number;
  /** To hear it; null: it is not ready. */
  url: string | null;
  /** Where it is used, in words. */
  usedBy: string[];
}

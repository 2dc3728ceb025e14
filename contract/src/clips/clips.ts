// Clips: prepared films and sounds, brought into the library once, and made ready by the server to be played into a show.
import { IsInt, IsOptional, IsString, Max, MaxLength, Min, MinLength } from 'class-validator';

/** Of a clip, in bytes as it comes, and in ms as it is kept. */
export const CLIP_MAX_BYTES = 1_000_000_000;
export const CLIP_MAX_MS = 900_000;
/** What is left between its points is at least so long, in ms. */
export const CLIP_LEAST_MS = 500;

export class ClipChange {
  @IsString()
  @MinLength(1, { message: 'Give it a name.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  /** Whose it is, and by what right it is played. */
  @IsString()
  @MaxLength(200, { message: 'Keep it to 200 characters.' })
  rights!: string;

  /** Where it begins, in ms of it. Missing: as it was. */
  @IsOptional()
  @IsInt({ message: 'Say where it begins, as 0:05.' })
  @Min(0, { message: 'Say where it begins, as 0:05.' })
  @Max(CLIP_MAX_MS, { message: 'It is not that long.' })
  inMs?: number;

  /** Where it ends, in ms of it; null: with its end. Missing: as it was. */
  @IsOptional()
  @IsInt({ message: 'Say where it ends, as 1:30.' })
  @Min(0, { message: 'Say where it ends, as 1:30.' })
  @Max(CLIP_MAX_MS, { message: 'It is not that long.' })
  outMs?: number | null;
}

export interface ClipView {
  id: string;
  kind: 'film' | 'sound';
  name: string;
  rights: string;
  state: 'making' | 'ready' | 'failed';
  /** How much of it has been made ready, from 0 to 1; null: that is not known, or it is ready. */
  made: number | null;
  /** Why it could not be made ready; empty otherwise. */
  words: string;
  /** The whole of it. */
  lengthMs: number;
  inMs: number;
  outMs: number | null;
  /** How loud it came, in LUFS (ITU-R BS.1770-5); null: that is not known yet, or there is nothing to hear in it. */
  cameAt: number | null;
  /** How many dB louder it is played than it came. */
  gainDb: number;
  addedAt: number;
  /** To see or hear it; null: it is not ready. */
  url: string | null;
  /** As the stage plays it, as FLV; null: it is not ready. */
  airUrl: string | null;
  /** Where it is used, in words. */
  usedBy: string[];
}

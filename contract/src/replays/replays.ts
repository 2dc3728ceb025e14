// What channels show of a show once it is over.
import { IsIn, IsInt, IsOptional, IsUUID, Max, Min, ValidateIf } from 'class-validator';

/** `own`: the recording that the network made; `film`: the cut, or the whole recording, in its place; `nothing`: it is hidden there. */
export const SHOWN_THERE = ['own', 'film', 'nothing'] as const;
export type ShownThere = (typeof SHOWN_THERE)[number];

export class ReplayWish {
  /** Over the state that was looked at. */
  @IsInt()
  @Min(0)
  base!: number;

  @IsIn(SHOWN_THERE)
  shows!: ShownThere;

  /** Of a film: the cut; missing: the whole recording. */
  @IsOptional()
  @IsUUID()
  cutId?: string;

  /** When it is hidden there by itself, in ms since the epoch; null: never. */
  @ValidateIf((_, value) => value !== null)
  @IsInt()
  @Min(0)
  @Max(8.64e15)
  hiddenAt!: number | null;
}

export interface ReplayPlace {
  airingId: string;
  channelName: string;
  network: string;
  watchUrl: string | null;
  /** What the network does on its own, and whether anything can be changed from here. */
  words: string[];
  canChange: boolean;
  revision: number;
  /** What was asked for; `own` where nobody has asked. */
  shows: ShownThere;
  /** Of a film; null: it is the whole recording, or no film. */
  cutId: string | null;
  cutName: string | null;
  /** `stands`: the network has confirmed it. `asked`: it is being done. */
  state: 'stands' | 'asked' | 'failed';
  /** Of a film that is being sent, in bytes. */
  sent: number;
  bytes: number;
  trouble: string;
  hiddenAt: number | null;
}

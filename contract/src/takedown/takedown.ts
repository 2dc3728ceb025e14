// Taking a show that is over away again: here, there, or everywhere.
import { IsIn } from 'class-validator';

export const TAKEN_FROM = ['here', 'there', 'everywhere'] as const;
export type TakenFrom = (typeof TAKEN_FROM)[number];

export class TakeAway {
  @IsIn(TAKEN_FROM, { message: 'Say from where it is taken away.' })
  from!: TakenFrom;
}

/** One place where something of a show stands. */
export interface StandingPlace {
  /** Of an airing; null: here. */
  airingId: string | null;
  name: string;
  /** What stands there. */
  what: string;
  /** What taking it away does there. */
  does: string;
  /** `cannot`: nobody can take it away from here. */
  state: 'stands' | 'asked' | 'gone' | 'failed' | 'cannot';
  /** Of what was taken away: what the network keeps all the same; empty: nothing. */
  stays: string;
  trouble: string;
}

import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What a network had counted of an airing on one day since its end; null: it does not tell that. */
export interface CountedOn {
  day: number;
  live: number | null;
  since: number | null;
}

/** How often an airing was played, as its network told again and again. */
@Entity('airing_plays')
export class AiringPlays {
  @PrimaryColumn('text') airingId!: string;
  /** The last that was told on each day. */
  @Column('simple-json') days!: CountedOn[];
  /** Null: it has told nothing yet. */
  @Column('integer', { nullable: true }) toldAt!: number | null;
  @Column('integer') nextAt!: number;
  @Column('text') trouble!: string;
}

export type Counted = 'page' | 'play';

/** How often the house page of a show was opened, or its picture played there, from one source. Nobody is told apart. */
@Entity('house_counts')
export class HouseCount {
  @PrimaryColumn('text') showId!: string;
  @PrimaryColumn('text') what!: Counted;
  /** Whole days since its end; -1: while it was on; -2: before. */
  @PrimaryColumn('integer') day!: number;
  @PrimaryColumn('text') source!: string;
  @Column('integer') count!: number;
}

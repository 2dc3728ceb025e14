import { Column, Entity, PrimaryColumn } from 'typeorm';

/** An airing of a show that is over and is to be taken away from its channel. */
@Entity('takedowns')
export class Takedown {
  @PrimaryColumn('text') airingId!: string;
  @Column('text') state!: 'asked' | 'gone' | 'failed';
  @Column('text') trouble!: string;
  /** Whether the show goes from here once it is gone from everywhere. */
  @Column('boolean') thenHere!: boolean;
}

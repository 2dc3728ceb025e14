// Thanks after a show, with the replay: other words for those who came, who missed it, who asked to be reminded, and for its guests.
import { IsIn, IsNotEmpty, IsString, Matches, MaxLength } from 'class-validator';
import { NO_CONTROLS } from '../house/house';

export const THANKED = ['came', 'missed', 'registered', 'guests'] as const;
export type Thanked = (typeof THANKED)[number];

export class ThanksDraft {
  @IsIn(THANKED)
  whom!: Thanked;

  @IsString()
  @IsNotEmpty({ message: 'Write a subject.' })
  @MaxLength(150, { message: 'Keep the subject to 150 characters.' })
  @Matches(NO_CONTROLS, { message: 'A subject has no line breaks.' })
  subject!: string;

  @IsString()
  @IsNotEmpty({ message: 'Write something.' })
  @MaxLength(4_000, { message: 'Keep it to 4,000 characters.' })
  text!: string;
}

export interface ThanksView {
  /** Where the replay is to be seen; null: nowhere yet, and nobody can be thanked with it. */
  replayUrl: string | null;
  groups: {
    whom: Thanked;
    /** How many they are, and to how many of them thanks were written already. */
    count: number;
    thanked: number;
    subject: string;
    text: string;
  }[];
  /** Words for each channel, to be said there by hand. */
  places: { airingId: string; name: string; words: string }[];
}

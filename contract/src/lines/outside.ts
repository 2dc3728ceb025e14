// Outside lines: ways in to Noble Lantern itself, for an encoder or a meeting.
import type { OutsideFacts } from '@lantern/core';
import { IsString, MaxLength, MinLength } from 'class-validator';

export class OutsideLineRequest {
  @IsString()
  @MinLength(1, { message: 'Give the line a name, as “Hall camera”.' })
  @MaxLength(60, { message: 'Keep it to 60 characters.' })
  name!: string;
}

export interface OutsideLineView {
  id: string;
  name: string;
  /** What an encoder is given as its address; the key goes beside it. */
  address: string;
  /** The same by a secure connection; null: none is set up. */
  secureAddress: string | null;
  lastUsedAt: number | null;
  /** What comes on it at this moment; null: nothing does. */
  arrives: OutsideArrival | null;
  /** Titles of coming shows whose picture comes on it. */
  usedBy: string[];
}

export interface OutsideArrival {
  facts: OutsideFacts;
  /** Whether it is made anew before it goes out. */
  normalised: boolean;
}

// How shows and airings stand.
import type { AiringField, AiringLife, Visibility } from '@lantern/core';

export type { FieldToLook, PictureFrom } from '@lantern/core';

export type ShowState = 'draft' | 'placed' | 'onAir' | 'interrupted' | 'over' | 'withdrawn';

/** How the placing of an airing stands, as core's table of its life has it. */
export type PlacingState = AiringLife;

/** `choices`: category, messages and whatever else the channel is told beside the facts. */
export type UntoldField = AiringField | 'picture' | 'choices';

/** What happened on one channel when it was asked for something. */
export interface ChannelResult {
  airingId: string;
  channelName: string;
  done: boolean;
  words: string;
  /** What the channel itself says after placing, read back from it; missing: it was not asked or gave no answer. */
  proof?: { title: string; startsAt: number; lengthMs: number; visibility: Visibility; watchUrl: string | null; same: boolean };
}

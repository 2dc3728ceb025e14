// Messages on the house page, of visitors without an account: when they are taken, how often, and what of them is looked at before anybody sees it.
import { HOUR_MS } from '../time/instant';

/** What is looked at by the team before it is shown: nothing, each browser's first message, or all of them. */
export const LOOKED_AT_FIRST = ['none', 'first', 'every'] as const;
export type LookedAtFirst = (typeof LOOKED_AT_FIRST)[number];

/** Seconds between two messages of one browser; 0: as fast as it likes. */
export const TALK_INTERVALS_S = [0, 5, 15, 60] as const;

export interface TalkRules {
  open: boolean;
  lookedAt: LookedAtFirst;
  everyS: number;
}

export const USUAL_TALK: TalkRules = { open: true, lookedAt: 'none', everyS: 5 };

export const LONGEST_SAID = 300;

/** Before it nobody of the team is there to look after a page on which everybody writes. */
export const TALK_OPENS_BEFORE_MS = HOUR_MS;

/** For whom the page is a place to talk: while a show is on, and in the hour before it begins. */
export function takesTalk({ state, startsAt }: { state: string; startsAt: number }, now: number): boolean {
  if (state === 'onAir' || state === 'interrupted') return true;
  return state === 'placed' && now >= startsAt - TALK_OPENS_BEFORE_MS;
}

/** Until when somebody writes nothing; null: they may. In ms since the epoch. */
export function silentUntil(last: number | null, silencedUntil: number | null, { everyS }: Pick<TalkRules, 'everyS'>, now: number): number | null {
  const until = Math.max(silencedUntil ?? 0, last === null ? 0 : last + everyS * 1_000);
  return until > now ? until : null;
}

/** Whether a message waits until somebody has looked at it; in a word why. */
export function waitsBecause({ lookedAt }: Pick<TalkRules, 'lookedAt'>, shownBefore: boolean): 'looked at first' | null {
  return lookedAt === 'every' || (lookedAt === 'first' && !shownBefore) ? 'looked at first' : null;
}

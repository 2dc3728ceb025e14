// The soonest start that everything takes: the rules of all channels, and what else goes out on their lines.
import type { ChannelView, PlanView, ShowDraft, ShowView } from '@lantern/contract';
import { earliestStart, instant, type Instant } from '@lantern/core';
import { clashesOfSheet } from './show-clashes';

/** Past so many other shows nobody means “as soon as possible” any more. */
const MOST_STEPS = 60;

/** Null: there is no such start within reach. `past`: titles of the shows that were in the way. */
export function soonestStart(
  channels: readonly ChannelView[],
  plan: PlanView | undefined,
  draft: ShowDraft,
  show: ShowView,
  now: Instant,
): { startsAt: Instant; past: string[] } | null {
  const sheets = channels.map(({ rules }) => rules);
  const past = new Set<string>();
  let from: number = now;
  for (let step = 0; step < MOST_STEPS; step++) {
    const startsAt = earliestStart(sheets, instant(from));
    const inTheWay = plan ? clashesOfSheet(plan, draft, show, startsAt, [...channels], now).filter(({ severity }) => severity === 'objection') : [];
    if (!inTheWay.length) return { startsAt, past: [...past] };
    for (const { rivalTitle } of inTheWay) past.add(rivalTitle);
    const after = inTheWay.map(({ rivalId }) => plan!.shows.find(({ id }) => id === rivalId)).map((rival) => (rival ? rival.startsAt + rival.lengthMs : 0));
    // Lead times count from now: only what they would add to the end of the other show is taken off again.
    const leadMs = startsAt - from;
    from = Math.max(from + 60_000, ...after.map((end) => end - leadMs));
  }
  return null;
}

// What goes out next on a channel, by the station's plan.
import type { PlanView } from '@lantern/contract';

/** Null: nothing is planned. A show that is on air is the next one until it ends. */
export function nextOn({ uses, shows }: Pick<PlanView, 'uses' | 'shows'>, channelId: string, now: number): PlanView['shows'][number] | null {
  const [next] = uses.filter((use) => use.channelId === channelId && use.startsAt + use.lengthMs > now).sort((a, b) => a.startsAt - b.startsAt);
  return (next && shows.find(({ id }) => id === next.showId)) ?? null;
}

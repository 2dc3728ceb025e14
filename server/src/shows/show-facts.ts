// What a show or an airing is, by its row.
import type { Airing, Show } from './show.entities';

/** Whether an event of the airing exists on its channel, or may. */
export function standsThere({ placing }: Pick<Airing, 'placing'>): boolean {
  return placing === 'placed' || placing === 'unsure';
}

/** Whether a show has not been on air: it can be changed, placed, withdrawn and removed. */
export const isStillPlanned = ({ state }: Pick<Show, 'state'>): boolean => state === 'draft' || state === 'placed' || state === 'withdrawn';

/** Whether people were told of a show that stands nowhere any more: its page says that it does not take place. */
export const isCalledOff = ({ state, placedAt }: Pick<Show, 'state' | 'placedAt'>): boolean =>
  state === 'withdrawn' || (state === 'draft' && placedAt !== null);

// Who has a show's sheet or stage open at this moment. In memory: whoever has it open says so again and again.
import type { HereNow, OtherHere } from '@lantern/contract';
import { HERE_EVERY_MS } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import type { Person } from '../people/people.entities';

/** Whoever was not heard for so long has gone. */
const GONE_MS = 2.5 * HERE_EVERY_MS;
const MOST_PER_SHOW = 100;
const MOST_SHOWS = 2_000;

type Seen = OtherHere & { at: number };

@Injectable()
export class OthersHere {
  private readonly shows = new Map<string, Map<string, Seen>>();

  /** Notes that a person has it open in a tab, and says who else has. */
  note(person: Pick<Person, 'id' | 'name' | 'role'>, showId: string, { tab, place }: HereNow, now = Date.now()): OtherHere[] {
    const here = this.shows.get(showId) ?? new Map<string, Seen>();
    for (const [key, { at }] of here) if (now - at > GONE_MS) here.delete(key);
    const key = `${person.id} ${tab}`;
    here.delete(key);
    const others = [...here.values()].map(({ personId, name, role, place: where }) => ({ personId, name, role, place: where }));
    here.set(key, { personId: person.id, name: person.name, role: person.role, place, at: now });
    if (here.size > MOST_PER_SHOW) here.delete(here.keys().next().value!);
    // The one that was looked at last is at the end: what is dropped was looked at long ago.
    this.shows.delete(showId);
    this.shows.set(showId, here);
    if (this.shows.size > MOST_SHOWS) this.shows.delete(this.shows.keys().next().value!);
    return others;
  }
}

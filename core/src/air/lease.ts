// Who holds the stage of a show on air: one person, in one tab. A lease that only a press changes: nobody's camera goes out
// because somebody else's line broke, and nobody loses the show to a stage that was merely opened.

export interface StagePerson {
  id: string;
  name: string;
}

export interface Lease {
  person: StagePerson;
  /** Names the tab; null: they went on air from where no picture is made, and have sent from nowhere yet. */
  tab: string | null;
  /** Whether their stage is connected at this moment. */
  connected: boolean;
}

export type LeaseEvent =
  /** Somebody pressed Go on air or Resume. */
  | { type: 'begun'; person: StagePerson; tab: string | null }
  /** A stage's socket has opened: of somebody who may run it, in a browser that can make a picture. */
  | { type: 'opened'; person: StagePerson; tab: string }
  | { type: 'closed'; tab: string }
  /** Somebody pressed Take the stage there. */
  | { type: 'taken'; person: StagePerson; tab: string };

export interface LeaseStep {
  lease: Lease | null;
  /** Whether that stage may send from now on. */
  sends: boolean;
  /** Whoever has lost the stage by this: they are told who took it. */
  lost: Lease | null;
}

/** What a lease becomes by one event. */
export function leaseAfter(lease: Lease | null, event: LeaseEvent): LeaseStep {
  const same = (tab: string) => lease !== null && lease.tab === tab;
  switch (event.type) {
    case 'begun':
      // On air already, or taken up again: whoever has it keeps it.
      if (lease !== null) return { lease, sends: event.tab !== null && same(event.tab) && lease.person.id === event.person.id, lost: null };
      return { lease: { person: event.person, tab: event.tab, connected: event.tab !== null }, sends: event.tab !== null, lost: null };
    case 'opened':
      // A tab keeps its name through a reload; a name alone, from another person, opens nothing.
      if (lease === null || !same(event.tab) || lease.person.id !== event.person.id) return { lease, sends: false, lost: null };
      return { lease: { ...lease, connected: true }, sends: true, lost: null };
    case 'closed':
      if (lease === null || !same(event.tab)) return { lease, sends: false, lost: null };
      return { lease: { ...lease, connected: false }, sends: false, lost: null };
    case 'taken': {
      const own = same(event.tab) && lease!.person.id === event.person.id;
      const lost = lease === null || own || lease.tab === null ? null : lease;
      return { lease: { person: event.person, tab: event.tab, connected: true }, sends: true, lost };
    }
  }
}

import fc from 'fast-check';
import { leaseAfter, type Lease, type LeaseEvent } from './lease';

const maren = { id: 'maren', name: 'Maren Tolliver' };
const bea = { id: 'bea', name: 'Bea Lanthorn' };

const after = (events: readonly LeaseEvent[]) => {
  let lease: Lease | null = null;
  let step = leaseAfter(lease, events[0]!);
  for (const event of events) {
    step = leaseAfter(lease, event);
    lease = step.lease;
  }
  return step;
};

test('a reload comes back to what it had; a stage that was merely opened has nothing', () => {
  const had: LeaseEvent[] = [
    { type: 'begun', person: maren, tab: 'desk' },
    { type: 'opened', person: bea, tab: 'hall' },
    { type: 'closed', tab: 'desk' },
  ];
  expect(after([...had, { type: 'opened', person: maren, tab: 'desk' }])).toMatchObject({ sends: true, lease: { tab: 'desk', connected: true } });
  expect(after([...had, { type: 'opened', person: bea, tab: 'hall-2' }])).toMatchObject({ sends: false, lease: { tab: 'desk', connected: false } });
  // Another tab of their own has a camera of its own: it waits for a press as well.
  expect(after([...had, { type: 'opened', person: maren, tab: 'laptop' }])).toMatchObject({ sends: false });
  // A name that was copied opens nothing to somebody else.
  expect(after([...had, { type: 'opened', person: bea, tab: 'desk' }])).toMatchObject({ sends: false });
});

test('whoever takes the stage has it, and whoever had it is told', () => {
  const step = after([
    { type: 'begun', person: maren, tab: 'desk' },
    { type: 'taken', person: bea, tab: 'hall' },
  ]);
  expect(step).toMatchObject({ sends: true, lease: { person: bea, tab: 'hall' }, lost: { person: maren, tab: 'desk' } });
  // From a phone nobody sends: the first stage that takes it takes it from nobody.
  expect(
    after([
      { type: 'begun', person: maren, tab: null },
      { type: 'taken', person: bea, tab: 'hall' },
    ]).lost,
  ).toBeNull();
});

test('never two who send, and nobody sends who has not pressed in that very tab', () => {
  const who = fc.constantFrom(maren, bea);
  const tab = fc.constantFrom('a', 'b', 'c');
  const event: fc.Arbitrary<LeaseEvent> = fc.oneof(
    fc.record({ type: fc.constant('begun' as const), person: who, tab: fc.option(tab) }),
    fc.record({ type: fc.constant('opened' as const), person: who, tab }),
    fc.record({ type: fc.constant('closed' as const), tab }),
    fc.record({ type: fc.constant('taken' as const), person: who, tab }),
  );
  fc.assert(
    fc.property(fc.array(event, { maxLength: 60 }), (events) => {
      let lease: Lease | null = null;
      const pressed = new Set<string>();
      let holder: string | null = null;
      for (const each of events) {
        const key = 'person' in each ? `${each.person.id} ${each.tab}` : '';
        if (each.type === 'taken' || (each.type === 'begun' && lease === null)) pressed.add(key);
        const step = leaseAfter(lease, each);
        if (step.sends) {
          expect(pressed).toContain(key);
          // Another may send only once it is said who lost the stage, where anybody had it.
          if (holder !== null && holder !== key) expect(step.lost).not.toBeNull();
          holder = key;
        }
        // A lease, once there, is always somebody's, and never lies about a stage that nobody opened.
        if (lease !== null) expect(step.lease).not.toBeNull();
        if (each.type === 'closed' || each.type === 'opened') expect(step.lease?.person).toEqual((lease as Lease | null)?.person);
        lease = step.lease;
      }
    }),
    { numRuns: 500, seed: 2 },
  );
});

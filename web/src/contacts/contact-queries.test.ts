import type { ContactView } from '@lantern/contract';
import { contactsFor, groupsOf } from './contact-queries';

const CONTACTS: ContactView[] = [
  { id: '1', name: 'Ada Fenn', email: 'ada@people.example', groups: ['Members', 'Dome team'], caption: '', zone: null },
  { id: '2', name: 'Bram Holt', email: 'bram@people.example', groups: ['members'], caption: '', zone: null },
  { id: '3', name: 'Cleo Marsh', email: 'cleo@school.example', groups: [], caption: '', zone: null },
];

test('groups are counted however they are written, the largest first', () => {
  expect(groupsOf(CONTACTS)).toEqual([
    { name: 'Members', count: 2 },
    { name: 'Dome team', count: 1 },
  ]);
});

test('contacts are found by group, name, address or group’s name', () => {
  const names = (group: string, lookFor: string) => contactsFor(CONTACTS, group, lookFor).map(({ id }) => id);
  expect(names('', '')).toEqual(['1', '2', '3']);
  expect(names('Members', '')).toEqual(['1', '2']);
  expect(names('Members', 'bram')).toEqual(['2']);
  expect(names('', 'SCHOOL')).toEqual(['3']);
  expect(names('', 'dome')).toEqual(['1']);
});

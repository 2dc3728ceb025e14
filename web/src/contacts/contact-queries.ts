import type { ContactView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

export const CONTACTS = ['contacts'];

/** `wanted`: whoever looks may see addresses of people. */
export const useContacts = (wanted = true) => useQuery({ queryKey: CONTACTS, queryFn: () => server.get<ContactView[]>('/api/contacts'), enabled: wanted });

/** The groups in use, each with how many are in it, the largest first. */
export function groupsOf(contacts: readonly ContactView[]): { name: string; count: number }[] {
  const counts = new Map<string, { name: string; count: number }>();
  for (const name of contacts.flatMap(({ groups }) => groups)) {
    const known = counts.get(name.toLowerCase());
    if (known) known.count += 1;
    else counts.set(name.toLowerCase(), { name, count: 1 });
  }
  return [...counts.values()].sort((a, b) => b.count - a.count || a.name.localeCompare(b.name));
}

/** Contacts of a group (empty: all) whose name, address or group holds what is looked for. */
export function contactsFor(contacts: readonly ContactView[], group: string, lookFor: string): ContactView[] {
  const wanted = lookFor.trim().toLowerCase();
  return contacts.filter(
    ({ name, email, groups }) =>
      (!group || groups.some((each) => each.toLowerCase() === group.toLowerCase())) &&
      (!wanted || [name, email, ...groups].some((text) => text.toLowerCase().includes(wanted))),
  );
}

// What public pages say to machines: crawlers, feed readers, and people who pass a link on.
import type { Instant } from '../time/instant';
import { sayTime, sayWhen } from '../time/zones';

export interface PublicShow {
  title: string;
  description: string;
  stationName: string;
  startsAt: Instant;
  lengthMs: number;
  zone: string;
  url: string;
  /** Absolute; null: none. */
  pictureUrl: string | null;
  state: 'coming' | 'onAir' | 'paused' | 'over' | 'withdrawn';
}

/** A BroadcastEvent of schema.org, to be written as JSON-LD. Lengths are ISO 8601 durations, times ISO 8601 in UTC. */
export function broadcastEvent(show: PublicShow): object {
  const { title, description, stationName, startsAt, lengthMs, url, pictureUrl, state } = show;
  const startDate = new Date(startsAt).toISOString();
  return {
    '@context': 'https://schema.org',
    '@type': 'BroadcastEvent',
    name: title,
    ...(description && { description: summaryOf(description, 500) }),
    startDate,
    endDate: new Date(startsAt + lengthMs).toISOString(),
    duration: `PT${Math.round(lengthMs / 60_000)}M`,
    isLiveBroadcast: state === 'onAir' || state === 'paused',
    eventStatus: `https://schema.org/${state === 'withdrawn' ? 'EventCancelled' : 'EventScheduled'}`,
    eventAttendanceMode: 'https://schema.org/OnlineEventAttendanceMode',
    location: { '@type': 'VirtualLocation', url },
    organizer: { '@type': 'Organization', name: stationName },
    url,
    ...(pictureUrl && { image: [pictureUrl] }),
  };
}

/** The first words of a text, on one line, cut at a word. */
export function summaryOf(text: string, most: number): string {
  const line = text.replace(/\s+/g, ' ').trim();
  if (line.length <= most) return line;
  const cut = line.slice(0, most - 1);
  return `${cut.slice(0, Math.max(cut.lastIndexOf(' '), most / 2)).trimEnd()}…`;
}

/** Text for XML and HTML alike; what no XML may hold is left out (XML 1.0, section 2.2). */
export function escapeMarkup(text: string): string {
  return text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '').replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
}

export interface FeedEntry {
  id: string;
  title: string;
  text: string;
  url: string;
  startsAt: Instant;
  zone: string;
  changedAt: Instant;
}

/** A feed of shows (Atom, RFC 4287), the latest change first. */
export function writeAtom(feed: { name: string; selfUrl: string; pageUrl: string; entries: readonly FeedEntry[] }, now: Instant): string {
  const entries = [...feed.entries].sort((a, b) => b.changedAt - a.changedAt);
  const stamp = (at: number) => new Date(at).toISOString();
  const updated = entries[0]?.changedAt ?? now;
  return `<?xml version="1.0" encoding="utf-8"?>
<feed xmlns="http://www.w3.org/2005/Atom">
<id>${escapeMarkup(feed.pageUrl)}</id>
<title>${escapeMarkup(feed.name)}</title>
<updated>${stamp(updated)}</updated>
<author><name>${escapeMarkup(feed.name)}</name></author>
<link rel="self" type="application/atom+xml" href="${escapeMarkup(feed.selfUrl)}"/>
<link rel="alternate" type="text/html" href="${escapeMarkup(feed.pageUrl)}"/>
${entries
  .map(
    ({ id, title, text, url, startsAt, zone, changedAt }) => `<entry>
<id>${escapeMarkup(id)}</id>
<title>${escapeMarkup(title)}</title>
<updated>${stamp(changedAt)}</updated>
<link rel="alternate" type="text/html" href="${escapeMarkup(url)}"/>
<summary>${escapeMarkup(sayWhen(startsAt, zone))}</summary>
<content type="text">${escapeMarkup(text)}</content>
</entry>
`,
  )
  .join('')}</feed>
`;
}

export type MessageForm = 'short' | 'long' | 'members';

/** A show in words to send along, with the right link at its end. */
export function messageFor(show: Pick<PublicShow, 'title' | 'description' | 'stationName' | 'startsAt' | 'zone'>, url: string, form: MessageForm): string {
  const when = sayWhen(show.startsAt, show.zone);
  switch (form) {
    case 'short':
      return `${show.title}, ${when}: ${url}`;
    case 'long':
      return `${show.title}\n${when}\n\n${summaryOf(show.description, 280)}\n\nWatch it here: ${url}`;
    case 'members':
      return `${show.stationName} goes on air on ${when}: ${show.title}. Come at ${sayTime(show.startsAt, show.zone)} or a little before; the page opens by itself. ${url}`;
  }
}

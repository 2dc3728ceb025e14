import {
  TownfoldChoices,
  TownfoldGathering,
  TownfoldGatheringEdit,
  TownfoldGatheringRequest,
  TownfoldGatherings,
  TownfoldHosting,
  TownfoldLine,
  TownfoldLookers,
  TownfoldNote,
  TownfoldNoteRequest,
  TownfoldNotices,
  TownfoldPartners,
  TownfoldPlaces,
} from '@lantern/contract/network-http';
import {
  DAY_MS,
  HOUR_MS,
  MINUTE_MS,
  type AccountKind,
  type Condition,
  type NetworkReport,
  type RuleNotice,
  type CountryLimit,
  type Sharing,
  type Visibility,
} from '@lantern/core';
import {
  seenOrGone,
  type Access,
  type AiringOrder,
  type AuthorisedRequest,
  type Connector,
  type Identity,
  type IngestLine,
  type Picture,
  type Partner,
  type PlacedEvent,
  type PlaysThere,
  type SeenEvent,
} from './connector';
import { townfoldMessages } from './townfold.messages';
import { madeOnce, noticeOf, ON_AIR, onceCounted, refusalBy, set, type AnnouncedLimits } from './shared';

const EVENT = { waiting: 'planned', showing: 'public', done: 'over', called_off: 'withdrawn' } as const;
const NOTICE: AnnouncedLimits<TownfoldNotices['notices'][number]['about']> = {
  headline: { limit: 'titleMax', unit: 1 },
  words: { limit: 'textMax', unit: 1 },
  days_ahead: { limit: 'furthestAheadMs', unit: DAY_MS },
  lead_minutes: { limit: 'leastLeadMs', unit: MINUTE_MS },
  longest_hours: { limit: 'longestMs', unit: HOUR_MS },
};
const WORDS: Readonly<Record<string, string>> = {
  'too-early': 'Townfold makes the show public by itself at its time.',
  'no-picture': 'Townfold sees no picture yet. It begins by itself once one arrives.',
  'not-eligible': 'This channel may not broadcast on Townfold yet. Its page here says what is missing.',
};

export class TownfoldConnector implements Connector {
  readonly network = 'townfold';
  readonly oauthPath = '/townfold/oauth';
  readonly words = WORDS;
  readonly messages = townfoldMessages;
  /** Each show has its own line there. */
  readonly lasting = null;

  readonly readRefusal = refusalBy('refused', 'because');

  async identities(request: AuthorisedRequest): Promise<Identity[]> {
    const { places } = await request('/townfold/open/places', { reply: TownfoldPlaces });
    return places.map((place) => ({ id: place.place_ref, name: place.display_name, kind: place.place_kind, pictureUrl: place.portrait }));
  }

  async conditions({ remoteId, request }: Access, kind: AccountKind): Promise<Condition[]> {
    const { role, group_allows } = await request(`/townfold/open/places/${remoteId}/hosting`, { reply: TownfoldHosting });
    if (kind === 'group') return [{ code: 'group-allows', state: group_allows ? 'met' : 'unmet' }];
    return kind === 'page' ? [{ code: 'page-role', state: role === 'reader' ? 'unmet' : 'met' }] : [];
  }

  async notices(request: AuthorisedRequest): Promise<RuleNotice[]> {
    const { notices } = await request('/townfold/open/notices', { reply: TownfoldNotices });
    return notices.flatMap(({ notice_ref: id, about: name, becomes: value, since }) => noticeOf(NOTICE, { id, name, value, from: since * 1_000 }));
  }

  async rotateEventLine({ request }: Access, eventId: string): Promise<void> {
    await request(`/townfold/open/gatherings/${eventId}/line/renew`, { reply: TownfoldLine, method: 'POST' });
  }

  async line({ request }: Access, eventId: string): Promise<IngestLine> {
    const line = await request(`/townfold/open/gatherings/${eventId}/line`, { reply: TownfoldLine });
    return { address: line.send_to, backupAddress: null, key: line.pass_phrase };
  }

  async place({ remoteId, request }: Access, order: AiringOrder, once: string): Promise<PlacedEvent> {
    const body: TownfoldGatheringRequest = {
      headline: order.wording.title,
      words: order.wording.text,
      begins_at: order.startsAt === null ? null : order.startsAt / 1000,
      lasts_minutes: Math.ceil(order.lengthMs / MINUTE_MS),
      shown_to: shownTo(order),
      ...choicesOf(order),
    };
    const made = await request(`/townfold/open/places/${remoteId}/gatherings`, { reply: TownfoldGathering, body, ...madeOnce(once) });
    return { remoteId: made.gathering_ref, watchUrl: made.members_address ?? made.page_address };
  }

  async change({ request }: Access, eventId: string, order: AiringOrder): Promise<void> {
    const { wording, startsAt, lengthMs } = order;
    const body: TownfoldGatheringEdit = {
      headline: wording.title,
      words: wording.text,
      lasts_minutes: Math.ceil(lengthMs / MINUTE_MS),
      shown_to: shownTo(order),
      ...choicesOf(order),
      ...(startsAt !== null && { begins_at: startsAt / 1000 }),
    };
    await request(`/townfold/open/gatherings/${eventId}/edit`, { reply: TownfoldGathering, ...set('POST', body) });
  }

  async post({ remoteId, request }: Access, text: string, once: string): Promise<string> {
    const body: TownfoldNoteRequest = { words: text };
    return (await request(`/townfold/open/places/${remoteId}/notes`, { reply: TownfoldNote, body, ...madeOnce(once) })).page_address;
  }

  async setThumbnail({ request }: Access, eventId: string, { jpeg }: Picture): Promise<void> {
    await request(`/townfold/open/gatherings/${eventId}/picture`, { reply: 'nothing', ...set('POST', jpeg) });
  }

  async look({ request }: Access, eventId: string): Promise<SeenEvent | null> {
    const event = await seenOrGone(request(`/townfold/open/gatherings/${eventId}`, { reply: TownfoldGathering }));
    return event && seen(event);
  }

  async planned({ remoteId, request }: Access): Promise<SeenEvent[]> {
    return (await request(`/townfold/open/places/${remoteId}/gatherings`, { reply: TownfoldGatherings })).gatherings.map(seen);
  }

  async partners({ remoteId, request }: Access): Promise<Partner[]> {
    const { partners } = await request(`/townfold/open/places/${remoteId}/partners`, { reply: TownfoldPartners });
    return partners.map(({ place_ref: id, display_name: name, own }) => ({ id, name, own }));
  }

  async report({ request }: Access, eventId: string): Promise<NetworkReport> {
    const event = await request(`/townfold/open/gatherings/${eventId}`, { reply: TownfoldGathering, ...ON_AIR });
    return { event: EVENT[event.phase], pictureArrives: event.picture_in, watching: event.onlookers, playbackUrl: event.stream_address };
  }

  /** Townfold starts by itself; there is nothing to be told. */
  async start(): Promise<void> {}

  async end({ request }: Access, eventId: string): Promise<void> {
    await request(`/townfold/open/gatherings/${eventId}/finish`, { reply: TownfoldGathering, ...set('POST') });
  }

  plays({ request }: Access, eventId: string): Promise<PlaysThere | null> {
    return onceCounted(async () => {
      const { looked_then, looked_later } = await request(`/townfold/open/gatherings/${eventId}/lookers`, { reply: TownfoldLookers });
      return { live: looked_then, since: looked_later };
    });
  }

  async withdraw({ request }: Access, eventId: string): Promise<void> {
    await request(`/townfold/open/gatherings/${eventId}/call-off`, { reply: TownfoldGathering, ...set('POST') });
  }
}

const FROM = { 'at placing': 'announced', 'at the start': 'begun', afterwards: 'over' } as const;
const WHEN = { announced: 'at placing', begun: 'at the start', over: 'afterwards' } as const;

const shownTo = ({ visibility }: AiringOrder) => (visibility === 'group members' ? 'members' : 'everyone');

function choicesOf({ settings: { messages, audience, countries, shortestMessage, sharing } }: AiringOrder): TownfoldChoices {
  const within = (rule: CountryLimit['rule']) => (countries?.rule === rule ? countries.of : []);
  return {
    ...(messages !== null && { talk: messages as 'everyone' | 'followers' }),
    ...(audience !== null && { from_age: audience === 'adults' ? 18 : 0 }),
    ...(shortestMessage !== null && { shortest_remark: shortestMessage }),
    ...(sharing !== null && { share_with: sharing.with, shared_from: FROM[sharing.when] }),
    ...(countries !== null && { only_in: within('only in'), not_in: within('everywhere but in') }),
  };
}

function seen(event: TownfoldGathering): SeenEvent {
  const { gathering_ref, phase, headline, words, begins_at, lasts_minutes, shown_to, page_address, members_address } = event;
  const visibility: Visibility = shown_to === 'members' ? 'group members' : 'everyone';
  const countries: CountryLimit = event.not_in.length ? { rule: 'everywhere but in', of: event.not_in } : { rule: 'only in', of: event.only_in };
  const sharing: Sharing = { with: event.shares.map(({ place_ref }) => place_ref).sort(), when: WHEN[event.shared_from] };
  const shares = event.shares.map(({ place_ref: id, display_name: name, answer }) => ({ id, name, answer }));
  const choices = {
    messages: event.talk,
    audience: event.from_age ? 'adults' : 'everybody',
    countries,
    shortestMessage: event.shortest_remark,
    sharing,
  } as const;
  const facts = { title: headline, text: words, startsAt: begins_at * 1000, lengthMs: lasts_minutes * MINUTE_MS, visibility, choices, shares };
  return { remoteId: gathering_ref, watchUrl: members_address ?? page_address, state: EVENT[phase], facts };
}

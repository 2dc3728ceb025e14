import {
  GuildhandAccounts,
  GuildhandAttendance,
  GuildhandLine,
  GuildhandRuleChanges,
  GuildhandSpeakers,
  GuildhandSpeakersRequest,
  GuildhandStanding,
  GuildhandTalk,
  GuildhandTalkChange,
  GuildhandTalkRequest,
  GuildhandTalks,
} from '@lantern/contract/network-http';
import { DAY_MS, HOUR_MS, MINUTE_MS, type AccountKind, type Condition, type NetworkReport, type RuleNotice } from '@lantern/core';
import {
  seenOrGone,
  type Access,
  type AiringOrder,
  type AuthorisedRequest,
  type Connector,
  type Identity,
  type IngestLine,
  type Picture,
  type PlacedEvent,
  type PlaysThere,
  type SeenEvent,
  type Speaker,
  type SpeakerThere,
} from './connector';
import { guildhandMessages } from './guildhand.messages';
import { madeOnce, noticeOf, ON_AIR, onceCounted, refusalBy, set, type AnnouncedLimits } from './shared';

const EVENT = { announced: 'planned', open: 'public', closed: 'over', cancelled: 'withdrawn' } as const;
const OLDER_THAN_DAYS = 30;
const CONNECTIONS = 50;
const NOTICE: AnnouncedLimits<GuildhandRuleChanges['data'][number]['attributes']['rule']> = {
  title: { limit: 'titleMax', unit: 1 },
  summary: { limit: 'textMax', unit: 1 },
  'days-ahead': { limit: 'furthestAheadMs', unit: DAY_MS },
  'minutes-before': { limit: 'leastLeadMs', unit: MINUTE_MS },
  'longest-hours': { limit: 'longestMs', unit: HOUR_MS },
};
const PROBLEM = refusalBy('type', 'detail');
const WORDS: Readonly<Record<string, string>> = {
  'too-early': 'Guildhand lets a show start from 20 minutes before its time.',
  'no-picture': 'Guildhand sees no picture yet. It is asked again in a moment.',
  'begins-locked': 'Guildhand does not move a show that stands there. Withdraw it there and place it again at the new time.',
  'audience-locked': 'Guildhand does not change who may see a show that stands there. Withdraw it there and place it again.',
  'picture-words': 'Guildhand wants words for those who cannot see the picture. Write them beneath it, then try again.',
  'not-eligible': 'This account may not broadcast on Guildhand yet. Its page here says what is missing.',
};

export class GuildhandConnector implements Connector {
  readonly network = 'guildhand';
  readonly oauthPath = '/guildhand/oauth';
  readonly words = WORDS;
  readonly messages = guildhandMessages;
  /** Each show has its own line there. */
  readonly lasting = null;

  /** Problem details (RFC 9457): the type's last part names the reason. */
  readRefusal(body: unknown) {
    const refusal = PROBLEM(body);
    return refusal && { ...refusal, reason: refusal.reason.split('/').at(-1)! };
  }

  async identities(request: AuthorisedRequest): Promise<Identity[]> {
    const { data } = await request('/guildhand/v2/accounts', { reply: GuildhandAccounts });
    return data.map(({ id, type, attributes }) => ({ id, name: attributes.name, kind: type, pictureUrl: attributes.portrait }));
  }

  async conditions({ remoteId, request }: Access, _kind: AccountKind, now: number): Promise<Condition[]> {
    const { data } = await request(`/guildhand/v2/accounts/${remoteId}/standing`, { reply: GuildhandStanding });
    const openedAt = Date.parse(data.attributes.opened);
    const metAt = openedAt + OLDER_THAN_DAYS * DAY_MS;
    const { connections } = data.attributes;
    return [
      { code: 'account-age', state: now > metAt ? 'met' : 'waiting', have: Math.floor((now - openedAt) / DAY_MS), need: OLDER_THAN_DAYS, metAt },
      { code: 'connections', state: connections >= CONNECTIONS ? 'met' : 'unmet', have: connections, need: CONNECTIONS },
    ];
  }

  async notices(request: AuthorisedRequest): Promise<RuleNotice[]> {
    const { data } = await request('/guildhand/v2/rule-changes', { reply: GuildhandRuleChanges });
    return data.flatMap(({ id, attributes: { rule: name, becomes: value, from } }) => noticeOf(NOTICE, { id, name, value, from: Date.parse(from) }));
  }

  async rotateEventLine({ request }: Access, eventId: string): Promise<void> {
    await request(`/guildhand/v2/talks/${eventId}/line/renewal`, { reply: GuildhandLine, method: 'POST' });
  }

  async line({ request }: Access, eventId: string): Promise<IngestLine> {
    const { data } = await request(`/guildhand/v2/talks/${eventId}/line`, { reply: GuildhandLine });
    return { address: data.attributes.ingest, backupAddress: null, key: data.attributes.secret };
  }

  async place({ remoteId, request }: Access, order: AiringOrder, once: string): Promise<PlacedEvent> {
    const body: GuildhandTalkRequest = {
      data: {
        type: 'talk',
        attributes: {
          title: order.wording.title,
          summary: order.wording.text,
          begins: new Date(order.startsAt!).toISOString(),
          lasts: durationOf(order.lengthMs),
          audience: audienceOf(order),
        },
      },
    };
    const { data } = await request(`/guildhand/v2/accounts/${remoteId}/talks`, { reply: GuildhandTalk, body, ...madeOnce(once) });
    return { remoteId: data.id, watchUrl: data.links.invitation ?? data.links.page };
  }

  async change({ request }: Access, eventId: string, order: AiringOrder): Promise<void> {
    const body: GuildhandTalkChange = {
      data: {
        type: 'talk',
        attributes: {
          title: order.wording.title,
          summary: order.wording.text,
          lasts: durationOf(order.lengthMs),
          audience: audienceOf(order),
          ...(order.startsAt !== null && { begins: new Date(order.startsAt).toISOString() }),
        },
      },
    };
    await request(`/guildhand/v2/talks/${eventId}`, { reply: GuildhandTalk, ...set('PATCH', body) });
  }

  async setThumbnail({ request }: Access, eventId: string, { jpeg, words }: Picture): Promise<void> {
    const body = { data: { type: 'picture', attributes: { bytes: jpeg.toString('base64'), words } } };
    await request(`/guildhand/v2/talks/${eventId}/picture`, { reply: 'nothing', ...set('PUT', body) });
  }

  readonly speakers = {
    invite: async ({ request }: Access, eventId: string, speakers: readonly Speaker[]): Promise<SpeakerThere[]> => {
      const body: GuildhandSpeakersRequest = { data: speakers.map(({ id, ...attributes }) => ({ type: 'speaker', id, attributes })) };
      return there(await request(`/guildhand/v2/talks/${eventId}/speakers`, { reply: GuildhandSpeakers, ...set('PUT', body) }));
    },
    read: async ({ request }: Access, eventId: string): Promise<SpeakerThere[]> =>
      there(await request(`/guildhand/v2/talks/${eventId}/speakers`, { reply: GuildhandSpeakers })),
  };

  async look({ request }: Access, eventId: string): Promise<SeenEvent | null> {
    const talk = await seenOrGone(request(`/guildhand/v2/talks/${eventId}`, { reply: GuildhandTalk }));
    return talk && seen(talk.data);
  }

  async planned({ remoteId, request }: Access): Promise<SeenEvent[]> {
    return (await request(`/guildhand/v2/accounts/${remoteId}/talks`, { reply: GuildhandTalks })).data.map(seen);
  }

  async report({ request }: Access, eventId: string): Promise<NetworkReport> {
    const { data } = await request(`/guildhand/v2/talks/${eventId}`, { reply: GuildhandTalk, ...ON_AIR });
    return { event: EVENT[data.attributes.state], pictureArrives: data.attributes.picture_seen, watching: data.attributes.attending };
  }

  async start({ request }: Access, eventId: string): Promise<void> {
    await request(`/guildhand/v2/talks/${eventId}/opening`, { reply: GuildhandTalk, ...set('POST'), tries: 1 });
  }

  async end({ request }: Access, eventId: string): Promise<void> {
    await request(`/guildhand/v2/talks/${eventId}/closing`, { reply: GuildhandTalk, ...set('POST') });
  }

  plays({ request }: Access, eventId: string): Promise<PlaysThere | null> {
    return onceCounted(async () => {
      const { data } = await request(`/guildhand/v2/talks/${eventId}/attendance`, { reply: GuildhandAttendance });
      return { live: data.attributes.attended, since: null };
    });
  }

  async withdraw({ request }: Access, eventId: string): Promise<void> {
    await request(`/guildhand/v2/talks/${eventId}/cancellation`, { reply: GuildhandTalk, ...set('POST') });
  }
}

/** ISO 8601, in minutes. */
const durationOf = (lengthMs: number): string => `PT${Math.ceil(lengthMs / MINUTE_MS)}M`;
const audienceOf = ({ visibility }: AiringOrder): 'everyone' | 'invited' => (visibility === 'invited people' ? 'invited' : 'everyone');

const there = ({ data }: GuildhandSpeakers): SpeakerThere[] =>
  data.map(({ id, attributes, links }) => ({ id, answer: attributes.answer, url: links.invitation }));

function seen({ id, attributes, links }: GuildhandTalk['data']): SeenEvent {
  const [, hours = '0', minutes = '0'] = /^PT(?:(\d+)H)?(?:(\d+)M)?$/.exec(attributes.lasts) ?? [];
  const facts = {
    title: attributes.title,
    text: attributes.summary,
    startsAt: Date.parse(attributes.begins),
    lengthMs: Number(hours) * HOUR_MS + Number(minutes) * MINUTE_MS,
    visibility: attributes.audience === 'invited' ? 'invited people' : 'everyone',
  } as const;
  return { remoteId: id, watchUrl: links.invitation ?? links.page, state: EVENT[attributes.state], facts };
}

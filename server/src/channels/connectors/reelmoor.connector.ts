import {
  ReelmoorAnnouncements,
  ReelmoorBroadcast,
  ReelmoorBroadcastChange,
  ReelmoorBroadcastList,
  ReelmoorBroadcastRequest,
  ReelmoorChannelList,
  ReelmoorFigures,
  ReelmoorLine,
  ReelmoorLineList,
  ReelmoorStanding,
  ReelmoorVisibility,
} from '@lantern/contract/network-http';
import { DAY_MS, HOUR_MS, MINUTE_MS, type AccountKind, type Condition, type NetworkReport, type RuleNotice, type Visibility } from '@lantern/core';
import {
  NetworkRefusal,
  seenOrGone,
  type Access,
  type AiringOrder,
  type AuthorisedRequest,
  type Connector,
  type Identity,
  type IngestLine,
  type LastingLines,
  type Picture,
  type PlacedEvent,
  type RemoteLine,
  type SeenEvent,
} from './connector';
import { reelmoorFilms } from './reelmoor.films';
import { reelmoorMessages } from './reelmoor.messages';
import { madeOnce, noticeOf, ON_AIR, onceCounted, refusalBy, set, type AnnouncedLimits } from './shared';

const EVENT = { scheduled: 'planned', public: 'public', ended: 'over', cancelled: 'withdrawn' } as const;
const VISIBILITY: Partial<Record<Visibility, ReelmoorVisibility>> = {
  everyone: 'everyone',
  'link holders': 'link-holders',
  'invited people': 'invited',
  supporters: 'supporters',
};
const NOTICE: AnnouncedLimits<ReelmoorAnnouncements['items'][number]['limit']> = {
  titleCharacters: { limit: 'titleMax', unit: 1 },
  descriptionCharacters: { limit: 'textMax', unit: 1 },
  daysAhead: { limit: 'furthestAheadMs', unit: DAY_MS },
  longestHours: { limit: 'longestMs', unit: HOUR_MS },
};
const WORDS: Readonly<Record<string, string>> = {
  'too-early': 'Reelmoor lets a show start from 45 minutes before its time.',
  'no-picture': 'Reelmoor sees no picture yet. It is asked again in a moment.',
  'not-eligible': 'This channel may not broadcast on Reelmoor yet. Its page here says what is missing.',
  nextUrl: 'Reelmoor shows next only what stands on Reelmoor itself: write the address of its page there.',
  lineId: 'The line chosen for this show is gone from Reelmoor. Choose another, then try again.',
};
const REFUSAL = refusalBy('reason', 'text');
const REWIND_HOURS = 3;

export class ReelmoorConnector implements Connector {
  readonly network = 'reelmoor';
  readonly oauthPath = '/reelmoor/oauth';
  readonly words = WORDS;
  readonly messages = reelmoorMessages;
  readonly films = reelmoorFilms;
  readonly plays: NonNullable<Connector['plays']> = ({ request }, eventId) =>
    onceCounted(async () => {
      const { playsLive, playsSince } = await request(`/reelmoor/api/broadcasts/${eventId}/figures`, { reply: ReelmoorFigures });
      return { live: playsLive, since: playsSince };
    });
  readonly lasting: Required<LastingLines> = {
    list: async ({ remoteId, request }) => (await request(linesOf(remoteId), { reply: ReelmoorLineList })).items.map(lineOf),
    make: async ({ remoteId, request }, name) => lineOf(await request(linesOf(remoteId), { reply: ReelmoorLine, method: 'POST', body: { label: name } })),
    rename: async ({ remoteId, request }, line, name) => {
      await request(`${linesOf(remoteId)}/${line}`, { reply: ReelmoorLine, method: 'PATCH', body: { label: name }, repeatable: true });
    },
    rotate: async ({ remoteId, request }, line) => lineOf(await request(`${linesOf(remoteId)}/${line}/reset`, { reply: ReelmoorLine, method: 'POST' })),
  };

  readRefusal(body: unknown) {
    return REFUSAL((body as { error?: unknown } | null)?.error);
  }

  async identities(request: AuthorisedRequest): Promise<Identity[]> {
    const { items } = await request('/reelmoor/api/channels', { reply: ReelmoorChannelList });
    return items.map(({ channelId, name, avatarUrl }) => ({ id: channelId, name, kind: 'library channel', pictureUrl: avatarUrl }));
  }

  async conditions({ remoteId, request }: Access, _kind: AccountKind, now: number): Promise<Condition[]> {
    const { phoneVerified, allowedFrom } = await request(`/reelmoor/api/channels/${remoteId}/standing`, { reply: ReelmoorStanding });
    const metAt = allowedFrom === null ? null : Date.parse(allowedFrom);
    const waiting: Condition =
      metAt === null ? { code: 'waiting-day', state: 'unmet' } : { code: 'waiting-day', state: now >= metAt ? 'met' : 'waiting', metAt };
    return [{ code: 'verified-phone', state: phoneVerified ? 'met' : 'unmet' }, waiting];
  }

  async askToBroadcast({ remoteId, request }: Access): Promise<void> {
    await request(`/reelmoor/api/channels/${remoteId}/standing/ask`, { reply: ReelmoorStanding, ...set('POST') });
  }

  async notices(request: AuthorisedRequest): Promise<RuleNotice[]> {
    const { items } = await request('/reelmoor/api/announcements', { reply: ReelmoorAnnouncements });
    return items.flatMap(({ announcementId: id, limit: name, value, inForceFrom }) => noticeOf(NOTICE, { id, name, value, from: Date.parse(inForceFrom) }));
  }

  async rotateEventLine(access: Access, eventId: string): Promise<void> {
    const event = await this.read(access, eventId);
    await this.lasting.rotate(access, event.lineId);
  }

  async line(access: Access, eventId: string): Promise<IngestLine> {
    const event = await this.read(access, eventId);
    const line = (await this.lasting.list(access)).find(({ remoteId }) => remoteId === event.lineId);
    if (!line) throw new NetworkRefusal('lineId', WORDS.lineId!, 404);
    return line;
  }

  async place({ remoteId, request }: Access, order: AiringOrder, once: string): Promise<PlacedEvent> {
    const body: ReelmoorBroadcastRequest = {
      ...this.changeable(order),
      title: order.wording.title,
      description: order.wording.text,
      scheduledStart: new Date(order.startsAt!).toISOString(),
      durationMinutes: Math.ceil(order.lengthMs / MINUTE_MS),
      lineId: order.remoteLineId!,
      visibility: VISIBILITY[order.visibility]!,
      ...playbackOf(order),
    };
    const made = await request(`/reelmoor/api/channels/${remoteId}/broadcasts`, { reply: ReelmoorBroadcast, body, ...madeOnce(once) });
    return { remoteId: made.broadcastId, watchUrl: made.admissionUrl ?? made.watchUrl };
  }

  async change({ request }: Access, eventId: string, order: AiringOrder): Promise<void> {
    const body: ReelmoorBroadcastChange = { ...this.changeable(order), ...playbackOf(order) };
    await request(`/reelmoor/api/broadcasts/${eventId}`, { reply: ReelmoorBroadcast, ...set('PATCH', body) });
  }

  async setThumbnail({ request }: Access, eventId: string, { jpeg }: Picture): Promise<void> {
    await request(`/reelmoor/api/broadcasts/${eventId}/thumbnail`, { reply: 'nothing', ...set('PUT', jpeg) });
  }

  async look(access: Access, eventId: string): Promise<SeenEvent | null> {
    const event = await seenOrGone(this.read(access, eventId));
    return event && seen(event);
  }

  async planned({ remoteId, request }: Access): Promise<SeenEvent[]> {
    return (await request(`/reelmoor/api/channels/${remoteId}/broadcasts`, { reply: ReelmoorBroadcastList })).items.map(seen);
  }

  async report(access: Access, eventId: string): Promise<NetworkReport> {
    const event = await access.request(`/reelmoor/api/broadcasts/${eventId}`, { reply: ReelmoorBroadcast, ...ON_AIR });
    return { event: EVENT[event.status], pictureArrives: event.receiving, watching: event.watchingNow, playbackUrl: event.playbackUrl };
  }

  async start({ request }: Access, eventId: string): Promise<void> {
    await request(`/reelmoor/api/broadcasts/${eventId}/start`, { reply: ReelmoorBroadcast, ...set('POST'), tries: 1 });
  }

  async end({ request }: Access, eventId: string): Promise<void> {
    await request(`/reelmoor/api/broadcasts/${eventId}/end`, { reply: ReelmoorBroadcast, ...set('POST') });
  }

  async withdraw({ request }: Access, eventId: string): Promise<void> {
    await request(`/reelmoor/api/broadcasts/${eventId}`, { reply: 'nothing', ...set('DELETE') });
  }

  private changeable({ wording, startsAt, lengthMs, visibility, remoteLineId, settings }: AiringOrder): ReelmoorBroadcastChange {
    const { category, language, messages, audience, tags, embedding, paidMention, licence, listedDays, playlist, next, adverts, keepsMessages } = settings;
    const { messagesEveryS, writersAgedDays } = settings;
    return {
      title: wording.title,
      description: wording.text,
      ...(startsAt !== null && { scheduledStart: new Date(startsAt).toISOString() }),
      durationMinutes: Math.ceil(lengthMs / MINUTE_MS),
      visibility: VISIBILITY[visibility]!,
      ...(remoteLineId !== null && { lineId: remoteLineId }),
      ...(category !== null && { category }),
      ...(language !== null && { language }),
      ...(messages !== null && { messages: messages as 'everyone' | 'followers' | 'off' }),
      ...(audience !== null && { audience }),
      ...(tags !== null && { tags }),
      ...(embedding !== null && { embeddable: embedding }),
      ...(paidMention !== null && { paidMention }),
      ...(messagesEveryS !== null && { messageEverySeconds: messagesEveryS }),
      ...(writersAgedDays !== null && { writerAgeDays: writersAgedDays }),
      ...(licence !== null && { licence: LICENCE[licence] }),
      ...(listedDays !== null && { listedDaysBefore: listedDays }),
      ...(playlist !== null && { playlist }),
      ...(next !== null && { nextUrl: next }),
      ...(adverts !== null && { adverts }),
      ...(keepsMessages !== null && { messagesStay: keepsMessages }),
    };
  }

  private read({ request }: Access, eventId: string): Promise<ReelmoorBroadcast> {
    return request(`/reelmoor/api/broadcasts/${eventId}`, { reply: ReelmoorBroadcast });
  }
}

const LICENCE = { 'all rights kept': 'all-rights-kept', 'CC BY 4.0': 'CC-BY-4.0' } as const;
const SEEN_LICENCE = { 'all-rights-kept': 'all rights kept', 'CC-BY-4.0': 'CC BY 4.0' } as const;
const SEEN = Object.fromEntries(Object.entries(VISIBILITY).map(([ours, theirs]) => [theirs, ours])) as Record<ReelmoorVisibility, Visibility>;

/** How it is played: what may be chosen until it is public. */
function playbackOf({ settings: { delayS, rewind, replay, beginsByItself } }: AiringOrder) {
  return {
    beginsBy: beginsByItself ? 'picture' : 'told',
    ...(delayS !== null && { delaySeconds: delayS as 4 | 10 | 25 }),
    rewindHours: rewind ? REWIND_HOURS : 0,
    replay: replay ?? true,
  } as const;
}

function seen(event: ReelmoorBroadcast): SeenEvent {
  const { broadcastId, status, title, description, scheduledStart, durationMinutes, visibility, watchUrl, admissionUrl, lineId } = event;
  const { category, language, audience, tags, embeddable, paidMention, licence, listedDaysBefore, playlist, nextUrl, adverts, messagesStay } = event.chosen;
  const choices = {
    ...{ delayS: event.delaySeconds, rewind: event.rewindHours > 0, replay: event.replay, beginsByItself: event.beginsBy === 'picture' },
    ...{ messages: event.messages, category, language, audience, tags, embedding: embeddable, paidMention, licence: SEEN_LICENCE[licence] },
    ...{ messagesEveryS: event.chosen.messageEverySeconds, writersAgedDays: event.chosen.writerAgeDays },
    ...{ listedDays: listedDaysBefore, playlist, next: nextUrl, adverts, keepsMessages: messagesStay },
  };
  const when = { startsAt: Date.parse(scheduledStart), lengthMs: durationMinutes * MINUTE_MS };
  const facts = { title, text: description, ...when, visibility: SEEN[visibility], choices };
  return { remoteId: broadcastId, watchUrl: admissionUrl ?? watchUrl, state: EVENT[status], facts, remoteLineId: lineId };
}

const linesOf = (channel: string): string => `/reelmoor/api/channels/${channel}/lines`;

function lineOf({ lineId, label, primaryAddress, backupAddress, streamKey }: ReelmoorLine): RemoteLine {
  return { remoteId: lineId, name: label, address: primaryAddress, backupAddress, key: streamKey };
}

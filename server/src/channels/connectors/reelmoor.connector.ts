import type {
  ReelmoorBroadcast,
  ReelmoorBroadcastChange,
  ReelmoorBroadcastRequest,
  ReelmoorChannelList,
  ReelmoorLine,
  ReelmoorLineList,
} from '@lantern/contract/network-http';
import type { NetworkReport } from '@lantern/core';
import {
  NetworkRefusal,
  type Access,
  type AiringText,
  type AuthorisedRequest,
  type Connector,
  type Identity,
  type IngestLine,
  type PlacedEvent,
} from './connector';

const LINE_LABEL = 'Noble Lantern';
const EVENT = { scheduled: 'planned', public: 'public', ended: 'over', cancelled: 'withdrawn' } as const;
const WORDS: Record<string, string> = {
  'too-early': 'Reelmoor lets a show start from 45 minutes before its time.',
  'no-picture': 'Reelmoor sees no picture yet. It is asked again in a moment.',
};

export class ReelmoorConnector implements Connector {
  readonly network = 'reelmoor';
  readonly oauthPath = '/reelmoor/oauth';

  async identities(request: AuthorisedRequest): Promise<Identity[]> {
    const { items } = await request<ReelmoorChannelList>('/reelmoor/api/channels');
    return items.map(({ channelId, name, avatarUrl }) => ({ id: channelId, name, kind: 'library channel', pictureUrl: avatarUrl }));
  }

  async place(access: Access, text: AiringText, once: string): Promise<PlacedEvent> {
    const line = await this.ownLine(access);
    const body: ReelmoorBroadcastRequest = {
      title: text.title,
      description: text.description,
      scheduledStart: new Date(text.startsAt).toISOString(),
      lineId: line.lineId,
      visibility: 'everyone',
      beginsBy: 'told',
      delaySeconds: 4,
    };
    const made = await access.request<ReelmoorBroadcast>(`/reelmoor/api/channels/${access.remoteId}/broadcasts`, {
      method: 'POST',
      body,
      headers: { 'idempotency-key': once },
    });
    return { remoteId: made.broadcastId, watchUrl: made.watchUrl };
  }

  async change(access: Access, eventId: string, text: AiringText): Promise<void> {
    const body: ReelmoorBroadcastChange = { title: text.title, description: text.description, scheduledStart: new Date(text.startsAt).toISOString() };
    await access.request(`/reelmoor/api/broadcasts/${eventId}`, { method: 'PATCH', body });
  }

  async setThumbnail(access: Access, eventId: string, jpeg: Buffer): Promise<void> {
    await access.request(`/reelmoor/api/broadcasts/${eventId}/thumbnail`, { method: 'PUT', body: jpeg });
  }

  async line(access: Access, eventId: string): Promise<IngestLine> {
    const event = await access.request<ReelmoorBroadcast>(`/reelmoor/api/broadcasts/${eventId}`);
    const line = (await this.lines(access)).find(({ lineId }) => lineId === event.lineId);
    if (!line) throw new NetworkRefusal('line', 'The line of this broadcast was removed on Reelmoor. Withdraw the show there and place it again.', 404);
    return { address: line.primaryAddress, key: line.streamKey };
  }

  async report(access: Access, eventId: string): Promise<NetworkReport> {
    const event = await access.request<ReelmoorBroadcast>(`/reelmoor/api/broadcasts/${eventId}`, { timeoutMs: 3_000 });
    return { event: EVENT[event.status], pictureArrives: event.receiving, watching: event.watchingNow };
  }

  async start(access: Access, eventId: string): Promise<void> {
    await access.request(`/reelmoor/api/broadcasts/${eventId}/start`, { method: 'POST' });
  }

  async end(access: Access, eventId: string): Promise<void> {
    await access.request(`/reelmoor/api/broadcasts/${eventId}/end`, { method: 'POST' });
  }

  async withdraw(access: Access, eventId: string): Promise<void> {
    await access.request(`/reelmoor/api/broadcasts/${eventId}`, { method: 'DELETE' });
  }

  ourWords(reason: string): string | null {
    return WORDS[reason] ?? null;
  }

  private async lines(access: Access): Promise<ReelmoorLine[]> {
    return (await access.request<ReelmoorLineList>(`/reelmoor/api/channels/${access.remoteId}/lines`)).items;
  }

  private async ownLine(access: Access): Promise<ReelmoorLine> {
    const found = (await this.lines(access)).find(({ label }) => label === LINE_LABEL);
    return found ?? (await access.request<ReelmoorLine>(`/reelmoor/api/channels/${access.remoteId}/lines`, { method: 'POST', body: { label: LINE_LABEL } }));
  }
}

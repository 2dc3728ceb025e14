import type { TownfoldGathering, TownfoldGatheringEdit, TownfoldGatheringRequest, TownfoldLine, TownfoldPlaces } from '@lantern/contract/network-http';
import type { NetworkReport } from '@lantern/core';
import type { Access, AiringText, AuthorisedRequest, Connector, Identity, IngestLine, PlacedEvent } from './connector';

const EVENT = { waiting: 'planned', showing: 'public', done: 'over', called_off: 'withdrawn' } as const;
const WORDS: Record<string, string> = {
  'too-early': 'Townfold makes the show public by itself at its time.',
  'no-picture': 'Townfold sees no picture yet. It begins by itself once one arrives.',
};

export class TownfoldConnector implements Connector {
  readonly network = 'townfold';
  readonly oauthPath = '/townfold/oauth';

  async identities(request: AuthorisedRequest): Promise<Identity[]> {
    const { places } = await request<TownfoldPlaces>('/townfold/open/places');
    return places.map((place) => ({ id: place.place_ref, name: place.display_name, kind: place.place_kind, pictureUrl: place.portrait }));
  }

  async place(access: Access, text: AiringText, once: string): Promise<PlacedEvent> {
    const body: TownfoldGatheringRequest = { headline: text.title, words: text.description, begins_at: text.startsAt / 1000, shown_to: 'everyone' };
    const made = await access.request<TownfoldGathering>(`/townfold/open/places/${access.remoteId}/gatherings`, {
      method: 'POST',
      body,
      headers: { 'idempotency-key': once },
    });
    return { remoteId: made.gathering_ref, watchUrl: made.page_address };
  }

  async change(access: Access, eventId: string, text: AiringText): Promise<void> {
    const body: TownfoldGatheringEdit = { headline: text.title, words: text.description, begins_at: text.startsAt / 1000 };
    await access.request(`/townfold/open/gatherings/${eventId}/edit`, { method: 'POST', body });
  }

  async setThumbnail(access: Access, eventId: string, jpeg: Buffer): Promise<void> {
    await access.request(`/townfold/open/gatherings/${eventId}/picture`, { method: 'POST', body: jpeg });
  }

  async line(access: Access, eventId: string): Promise<IngestLine> {
    const line = await access.request<TownfoldLine>(`/townfold/open/gatherings/${eventId}/line`);
    return { address: line.send_to, key: line.pass_phrase };
  }

  async report(access: Access, eventId: string): Promise<NetworkReport> {
    const event = await access.request<TownfoldGathering>(`/townfold/open/gatherings/${eventId}`, { timeoutMs: 3_000 });
    return { event: EVENT[event.phase], pictureArrives: event.picture_in, watching: event.onlookers };
  }

  /** Townfold starts by itself; there is nothing to be told. */
  async start(): Promise<void> {}

  async end(access: Access, eventId: string): Promise<void> {
    await access.request(`/townfold/open/gatherings/${eventId}/finish`, { method: 'POST' });
  }

  async withdraw(access: Access, eventId: string): Promise<void> {
    await access.request(`/townfold/open/gatherings/${eventId}/call-off`, { method: 'POST' });
  }

  ourWords(reason: string): string | null {
    return WORDS[reason] ?? null;
  }
}

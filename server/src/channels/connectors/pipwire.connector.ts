import {
  PipwireCast,
  PipwireCastRequest,
  PipwireChanges,
  PipwireHandles,
  PipwireLine,
  PipwirePicture,
  PipwirePost,
  PipwirePostRequest,
} from '@lantern/contract/network-http';
import { HOUR_MS, type AccountKind, type Condition, type NetworkReport, type RuleNotice } from '@lantern/core';
import {
  NetworkRefusal,
  type Access,
  type AiringOrder,
  type AuthorisedRequest,
  type Connector,
  type Identity,
  type IngestLine,
  type LastingLines,
  type PlacedEvent,
  type RemoteLine,
} from './connector';
import { pipwireMessages } from './pipwire.messages';
import { noticeOf, ON_AIR, refusalBy, set, type AnnouncedLimits } from './shared';

const EVENT = { waiting: 'planned', live: 'public', gone: 'over', removed: 'withdrawn' } as const;
const FOLLOWERS = 100;
/** A handle has one line, which has no name or identifier of its own there. */
const ONLY_LINE = 'line';
const NOTICE: AnnouncedLimits<PipwireChanges['changes'][number]['what']> = {
  characters: { limit: 'textMax', unit: 1 },
  longest_hours: { limit: 'longestMs', unit: HOUR_MS },
};
const WORDS: Readonly<Record<string, string>> = {
  'one-at-a-time': 'Another show of this handle is open on Pipwire. End it there, then try again.',
  'not-eligible': 'This handle may not broadcast on Pipwire yet. Its page here says what is missing.',
};

export class PipwireConnector implements Connector {
  readonly network = 'pipwire';
  readonly oauthPath = '/pipwire/oauth';
  readonly words = WORDS;
  readonly messages = pipwireMessages;
  readonly lasting: LastingLines = {
    list: async ({ remoteId, request }) => [lineOf(await request(`/pipwire/1/handles/${remoteId}/line`, { reply: PipwireLine }))],
    rotate: async ({ remoteId, request }) => lineOf(await request(`/pipwire/1/handles/${remoteId}/line/new-key`, { reply: PipwireLine, method: 'POST' })),
  };

  readonly readRefusal = refusalBy('no', 'say');

  async identities(request: AuthorisedRequest): Promise<Identity[]> {
    const { handles } = await request('/pipwire/1/handles', { reply: PipwireHandles });
    return handles.map(({ handle, shown_as, face }) => ({ id: handle, name: shown_as, kind: 'handle', pictureUrl: face }));
  }

  async conditions({ remoteId, request }: Access, _kind: AccountKind): Promise<Condition[]> {
    const { handles } = await request('/pipwire/1/handles', { reply: PipwireHandles });
    const have = handles.find(({ handle }) => handle === remoteId)?.followers ?? 0;
    return [{ code: 'followers', state: have >= FOLLOWERS ? 'met' : 'unmet', have, need: FOLLOWERS }];
  }

  async notices(request: AuthorisedRequest): Promise<RuleNotice[]> {
    const { changes } = await request('/pipwire/1/changes', { reply: PipwireChanges });
    return changes.flatMap(({ id, what: name, to: value, at: from }) => noticeOf(NOTICE, { id, name, value, from }));
  }

  async rotateEventLine(access: Access): Promise<void> {
    await this.lasting.rotate(access, ONLY_LINE);
  }

  async line({ remoteId, request }: Access): Promise<IngestLine> {
    return lineOf(await request(`/pipwire/1/handles/${remoteId}/line`, { reply: PipwireLine }));
  }

  /** All in one go, since nothing can be changed afterwards: the picture is sent before the words. */
  async place({ remoteId, request }: Access, { wording, picture }: AiringOrder, once: string): Promise<PlacedEvent> {
    const sent = picture && (await request(`/pipwire/1/handles/${remoteId}/pictures`, { reply: PipwirePicture, ...set('POST', picture.jpeg) }));
    const body: PipwireCastRequest = { say: wording.text, nonce: once, ...(sent && { picture: sent.picture }) };
    const made = await request(`/pipwire/1/handles/${remoteId}/casts`, { reply: PipwireCast, ...set('POST', body) });
    return { remoteId: made.cast, watchUrl: made.link };
  }

  async post({ remoteId, request }: Access, text: string, once: string): Promise<string> {
    const body: PipwirePostRequest = { say: text, nonce: once };
    return (await request(`/pipwire/1/handles/${remoteId}/posts`, { reply: PipwirePost, ...set('POST', body) })).link;
  }

  async change(): Promise<void> {
    throw new NetworkRefusal('locked', 'What stands on Pipwire cannot be changed there.', 409);
  }

  /** It went along when the post was made. */
  async setThumbnail(): Promise<void> {}

  async report({ request }: Access, eventId: string): Promise<NetworkReport> {
    const cast = await request(`/pipwire/1/casts/${eventId}`, { reply: PipwireCast, ...ON_AIR });
    return { event: EVENT[cast.is], pictureArrives: cast.picture_comes, watching: cast.eyes, playbackUrl: cast.plays };
  }

  /** Pipwire starts by itself; there is nothing to be told. */
  async start(): Promise<void> {}

  async end({ request }: Access, eventId: string): Promise<void> {
    await request(`/pipwire/1/casts/${eventId}/stop`, { reply: PipwireCast, ...set('POST') });
  }

  async withdraw({ request }: Access, eventId: string): Promise<void> {
    await request(`/pipwire/1/casts/${eventId}`, { reply: 'nothing', ...set('DELETE') });
  }
}

function lineOf({ push_to, key }: PipwireLine): RemoteLine {
  return { remoteId: ONLY_LINE, name: 'The handle’s line', address: push_to, backupAddress: null, key };
}

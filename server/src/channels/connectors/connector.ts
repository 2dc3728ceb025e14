// One face for all services: what the product asks of a channel's network. Each network has its own
// implementation; nothing outside this folder knows their interfaces.
import type { AccountKind, NetworkId, NetworkReport } from '@lantern/core';

/** Where a picture is sent. The key is a secret. */
export interface IngestLine {
  address: string;
  key: string;
}

/** What is told to a network about an airing. `startsAt` in ms since the epoch. */
export interface AiringText {
  title: string;
  description: string;
  startsAt: number;
}

/** An account on a network and the right to act for it. */
export interface Access {
  remoteId: string;
  /** Sends a request with a good token, refreshing it when it has run out. */
  request: AuthorisedRequest;
}

export interface RequestOptions {
  method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  body?: object | Buffer;
  headers?: Record<string, string>;
  timeoutMs?: number;
}

/** The reply's JSON. Throws NetworkRefusal for an expected no, NetworkSilence where no answer can be had. */
export type AuthorisedRequest = <T>(path: string, options?: RequestOptions) => Promise<T>;

export interface Identity {
  id: string;
  name: string;
  kind: AccountKind;
  pictureUrl: string | null;
}

export interface PlacedEvent {
  remoteId: string;
  watchUrl: string;
}

export interface Connector {
  readonly network: NetworkId;
  /** The path of its OAuth endpoints below the networks' address. */
  readonly oauthPath: string;
  identities(request: AuthorisedRequest): Promise<Identity[]>;
  /** Creates the event. Called again with the same `once`, finds the same event and never makes a second. */
  place(access: Access, text: AiringText, once: string): Promise<PlacedEvent>;
  change(access: Access, eventId: string, text: AiringText): Promise<void>;
  setThumbnail(access: Access, eventId: string, jpeg: Buffer): Promise<void>;
  line(access: Access, eventId: string): Promise<IngestLine>;
  report(access: Access, eventId: string): Promise<NetworkReport>;
  /** Makes the event public, on networks that want to be told. */
  start(access: Access, eventId: string): Promise<void>;
  end(access: Access, eventId: string): Promise<void>;
  withdraw(access: Access, eventId: string): Promise<void>;
  /** The network's reason in our words, where we know better ones than its own. */
  ourWords(reason: string): string | null;
}

/** The network said no: `words` tell why and what helps. Asking again as it is will not help. */
export class NetworkRefusal extends Error {
  constructor(
    readonly reason: string,
    readonly words: string,
    readonly status: number,
  ) {
    super(words);
  }
}

/** The network gave no answer that can be understood. What was asked may or may not have happened. */
export class NetworkSilence extends Error {}

/** The station may no longer act for this account. */
export class AccessEnded extends Error {}

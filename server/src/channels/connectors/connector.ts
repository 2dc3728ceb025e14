// One face for all services: what the product asks of a channel's network. Each network has its own
// implementation; nothing outside this folder knows their interfaces.
import type {
  AccountKind,
  AiringFacts,
  AiringSettings,
  Condition,
  NetworkId,
  NetworkReport,
  RuleNotice,
  SilenceFor,
  SpeakerAnswer,
  Visibility,
  Wording,
  WriterStanding,
  Writing,
} from '@lantern/core';

/** Where a picture is sent. The key is a secret. */
export interface IngestLine {
  address: string;
  backupAddress: string | null;
  key: string;
}

/** A line as its network keeps it. */
export interface RemoteLine extends IngestLine {
  remoteId: string;
  name: string;
}

/** What is told to a network about an airing. */
export interface AiringOrder {
  wording: Wording;
  /** In ms since the epoch; null: at once. */
  startsAt: number | null;
  lengthMs: number;
  visibility: Visibility;
  settings: AiringSettings;
  /** The network's identifier of the line, where its lines are lasting. */
  remoteLineId: string | null;
  picture: Picture | null;
}

/** A rendition by the network's own rules, with what it shows in words. */
export interface Picture {
  jpeg: Buffer;
  words: string;
}

/** An account on a network and the right to act for it. */
export interface Access {
  remoteId: string;
  /** Sends a request with a good token, refreshing it when it has run out. */
  request: AuthorisedRequest;
  /** Opens a socket with a good token, and gives the text frames that come, as many as there are at once. Throws as requests do. */
  socket(path: string): Promise<{ frames(signal: AbortSignal): AsyncGenerator<string[], void> }>;
}

/** What a network has agreed to answer: a body that keeps the rules of a class, or `nothing`, a reply without one. */
export type ReplyContract<T> = (new () => T & object) | 'nothing';

export interface RequestOptions<T = unknown> {
  reply: ReplyContract<T>;
  method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  body?: object | Buffer;
  headers?: Record<string, string>;
  timeoutMs?: number;
  /**
   * Whether asking twice does no more than asking once: reading, setting, ending, or making with an
   * idempotency key. Only such requests are tried again when no answer came.
   */
  repeatable?: boolean;
  /** How often at the most; otherwise 3. */
  tries?: number;
  /** Ends the request, which then counts as not answered. */
  signal?: AbortSignal;
}

/**
 * The reply, as its contract says. Throws NetworkRefusal for an expected no, NetworkSilence where no answer can be had, or one
 * that the network never agreed to give.
 */
export type AuthorisedRequest = <T>(path: string, options: RequestOptions<T>) => Promise<T>;

export interface Identity {
  id: string;
  name: string;
  kind: AccountKind;
  pictureUrl: string | null;
}

export interface PlacedEvent {
  remoteId: string;
  /** Where those who may see it see it. */
  watchUrl: string;
}

/** An event as it stands on its network. */
export interface SeenEvent {
  remoteId: string;
  watchUrl: string;
  /** How it stands: one that is over or cancelled may still be read, but nobody will see a show there. */
  state: Exclude<NetworkReport['event'], 'missing'>;
  facts: AiringFacts;
  remoteLineId?: string;
}

/** Whether a show will be, or is being, seen at the event. */
export const isThere = (event: SeenEvent | null): event is SeenEvent => event !== null && (event.state === 'planned' || event.state === 'public');

/** Reason and words of a refusal in a network's own shape; null where the body has another. */
export type RefusalReader = (body: unknown) => { reason: string; text: string } | null;

/** Lines that a network keeps for an account, whatever show is on. */
export interface LastingLines {
  list(access: Access): Promise<RemoteLine[]>;
  /** Has the network issue a new key. */
  rotate(access: Access, remoteLineId: string): Promise<RemoteLine>;
  /** Only where there may be several, with names. */
  make?(access: Access, name: string): Promise<RemoteLine>;
  rename?(access: Access, remoteLineId: string, name: string): Promise<void>;
}

/** A page that can share a show on; `own`: without being asked. */
export interface Partner {
  id: string;
  name: string;
  own: boolean;
}

/** Somebody who is to be named on the page of an event. */
export interface Speaker {
  /** Of ours: by it they are known again there. */
  id: string;
  name: string;
  about: string;
}

export interface SpeakerThere {
  id: string;
  answer: SpeakerAnswer;
  /** Where they answer; theirs alone. */
  url: string;
}

/** Something that was written beneath an event. */
export interface MessageThere {
  id: string;
  /** In ms since the epoch, by the network's clock. */
  writtenAt: number;
  writer: string;
  standing: WriterStanding;
  words: string;
  /** Which other it answers, where a network has threads. */
  answers: string | null;
  hidden: boolean;
}

/** `cursor`: where to go on once these have been kept. */
export interface MessageBatch {
  messages: readonly MessageThere[];
  cursor: string;
}

/** A film that is put in the place of a recording. */
export interface FilmThere {
  id: string;
  bytes: number;
  /** How many of them are there, from the first on. */
  received: number;
  state: 'receiving' | 'ready' | 'refused';
  /** Why it was refused, in the network's words. */
  words: string;
}

/** What an event shows once it is over: the recording that the network made itself, a film, or nothing. */
export type ShownThere = 'own' | 'film' | 'nothing';

export interface FilmsThere {
  /** Announces a film of so many bytes; called again with the same `once`, finds the same one and how far it has come. */
  begin(access: Access, eventId: string, bytes: number, once: string): Promise<FilmThere>;
  look(access: Access, filmId: string): Promise<FilmThere>;
  /** Sends what stands at `offset`; where another piece was to come, a NetworkRefusal of status 409. */
  send(access: Access, filmId: string, offset: number, piece: Buffer): Promise<FilmThere>;
  /** Its captions, as WebVTT; empty: none. */
  setCaptions(access: Access, filmId: string, language: string, vtt: string): Promise<void>;
  show(access: Access, eventId: string, shows: ShownThere, filmId: string | null): Promise<void>;
  shown(access: Access, eventId: string): Promise<{ shows: ShownThere; filmId: string | null }>;
}

/** What is written beneath events. */
export interface MessagesThere {
  /**
   * Hands over all that was written after `cursor` (empty: from the first on), and then what is written, until `signal` says so. The next batch
   * is asked for only once `keep` has kept the one before. One message may come twice; none is left out. Throws as requests do.
   */
  follow(access: Access, eventId: string, cursor: string, keep: (batch: MessageBatch) => Promise<void>, signal: AbortSignal): Promise<void>;
  /** Writes as the account; `answers`: the message that it answers. Called again with the same `once`, writes no second one. */
  write(access: Access, eventId: string, words: string, answers: string | null, once: string): Promise<MessageThere>;
  /** Hides a message from the public or, where that is all a network knows, takes it away for good; `hidden` false shows it again. */
  setHidden(access: Access, messageId: string, hidden: boolean): Promise<void>;
  /** Changes who may write beneath an event, how often and what; answers with how that stands there now. Only where a network leaves a choice. */
  setWriting?(access: Access, eventId: string, writing: Writing): Promise<Writing>;
  /** Has whoever wrote a message write nothing more beneath its event, or lets them; answers with how that stands there now. Only where a network knows that. */
  silence?(access: Access, messageId: string, silence: SilenceFor | 'no'): Promise<SilenceFor | 'no'>;
}

/** While it was on, and since; null: the network does not tell that. */
export interface PlaysThere {
  live: number | null;
  since: number | null;
}

export interface Connector {
  readonly network: NetworkId;
  /** The path of its OAuth endpoints below the networks' address. */
  readonly oauthPath: string;
  readonly readRefusal: RefusalReader;

  identities(request: AuthorisedRequest): Promise<Identity[]>;
  /** The conditions on which the account may broadcast, each with its state at `now`. */
  conditions(access: Access, kind: AccountKind, now: number): Promise<Condition[]>;
  /** Asks the network to allow broadcasting; only where one has to. */
  askToBroadcast?(access: Access): Promise<void>;
  /** Changes of limits that the network has announced. Needs no access. */
  notices(request: AuthorisedRequest): Promise<RuleNotice[]>;

  /** The account's lasting lines; null where each show gets its own. */
  readonly lasting: LastingLines | null;
  /** Has the network issue a new key for the line of one event. */
  rotateEventLine(access: Access, eventId: string): Promise<void>;
  /** The line of an event, key included. */
  line(access: Access, eventId: string): Promise<IngestLine>;

  /** Creates the event. Called again with the same `once`, finds the same event and never makes a second. */
  place(access: Access, order: AiringOrder, once: string): Promise<PlacedEvent>;
  change(access: Access, eventId: string, order: AiringOrder): Promise<void>;
  setThumbnail(access: Access, eventId: string, picture: Picture): Promise<void>;
  /** Says something on the account's page, without any event; returns where it stands. Called again with the same `once`, makes no second post. Only where a network has posts. */
  post?(access: Access, text: string, once: string): Promise<string>;
  /** The event as anybody at the account sees it; null: there is none any more. Only where events are taken in advance. */
  look?(access: Access, eventId: string): Promise<SeenEvent | null>;
  /** What is planned at the account, also what was not placed from here. */
  planned?(access: Access): Promise<SeenEvent[]>;
  /** The pages on which shows of the account can be shared. Only where a network knows such pages. */
  partners?(access: Access): Promise<Partner[]>;
  /** Only where pages of events name speakers, who have to agree there. `invite`: these and no others; called again with the same, changes nothing. */
  readonly speakers?: {
    invite(access: Access, eventId: string, speakers: readonly Speaker[]): Promise<SpeakerThere[]>;
    read(access: Access, eventId: string): Promise<SpeakerThere[]>;
  };
  readonly messages: MessagesThere;
  /** Only where a film can take the place of a recording, or a recording be hidden. */
  readonly films?: FilmsThere;
  /** How often it was played, once it is over; null: the network has not counted yet. Only where a network tells that. */
  plays?(access: Access, eventId: string): Promise<PlaysThere | null>;
  report(access: Access, eventId: string): Promise<NetworkReport>;
  /** Makes the event public, on networks that want to be told. */
  start(access: Access, eventId: string): Promise<void>;
  end(access: Access, eventId: string): Promise<void>;
  withdraw(access: Access, eventId: string): Promise<void>;
  /** Reasons of the network in our words, where we know better ones than its own. */
  readonly words: Readonly<Record<string, string>>;
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
export class NetworkSilence extends Error {
  constructor(
    message: string,
    /** Certain that nothing was done: the network turned the request away before looking at it. */
    readonly notDone = false,
    /** How long the network asks to be left alone; null: it did not say. */
    readonly retryAfterMs: number | null = null,
  ) {
    super(message);
  }
}

/** Null where the network says that there is no such event; all else is thrown on. */
export async function seenOrGone<T>(asking: Promise<T>): Promise<T | null> {
  try {
    return await asking;
  } catch (error) {
    if (error instanceof NetworkRefusal && error.status === 404) return null;
    throw error;
  }
}

/** The station may no longer act for this account. */
export class AccessEnded extends Error {}

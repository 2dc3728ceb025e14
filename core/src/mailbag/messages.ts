// Messages beneath a show on its channels, as one list: what each network lets the team do with them, and how the list stays in order.
import type { NetworkId } from '../channels/rules';
import { MINUTE_MS } from '../time/instant';
import { LONGEST_SAID } from './house-talk';

/** Where messages are written. */
export type MessagePlace = NetworkId | 'house page';

/** What a network knows of somebody who writes. */
export type WriterStanding = 'own' | 'member' | 'follower' | 'newcomer' | 'unknown';

export interface MessageRules {
  /** Characters that an answer has at the most. */
  longest: number;
  /** Whether an answer stands beneath what it answers; where not, it names whom it answers. */
  threads: boolean;
  /** What becomes of a message that is hidden: it can be shown again, or it is gone for good. */
  hiding: 'can be shown again' | 'for good';
  /** For how long one may keep a writer from writing; empty: not at all. */
  silences: readonly SilenceFor[];
}

/** For how long somebody writes nothing more beneath a show. */
export type SilenceFor = 'ten minutes' | 'this show';
export const WRITER_SILENT_MS = 10 * MINUTE_MS;

const BOTH = ['ten minutes', 'this show'] as const;

const RULES: Record<MessagePlace, MessageRules> = {
  'house page': { longest: LONGEST_SAID, threads: true, hiding: 'can be shown again', silences: BOTH },
  reelmoor: { longest: 500, threads: true, hiding: 'can be shown again', silences: BOTH },
  townfold: { longest: 800, threads: false, hiding: 'can be shown again', silences: ['this show'] },
  guildhand: { longest: 1_000, threads: true, hiding: 'for good', silences: [] },
  pipwire: { longest: 270, threads: true, hiding: 'can be shown again', silences: ['this show'] },
};

export const messageRules = (network: MessagePlace): MessageRules => RULES[network];

/** An answer as it is written there: where nothing else tells whom it answers, it begins with their name. */
export function wordedAnswer(network: MessagePlace, writer: string, words: string): string {
  const said = words.trim();
  return RULES[network].threads || said.startsWith(writer) ? said : `${writer}: ${said}`;
}

/** By how many characters an answer is too long there; 0: it fits. */
export const tooLongBy = (network: MessagePlace, words: string): number => Math.max(0, [...words].length - RULES[network].longest);

/** As a person reads it: a question mark, in whatever script, that is not part of an address. */
export const looksAsked = (words: string): boolean => /[?？؟](?=\s|$|["”’)])/.test(words.replace(/\b\w+:\/\/\S+/g, ''));

interface Placed {
  id: string;
  /** In the order of arrival. */
  place: number;
}

/** The list with what is new or other in it, in the order of arrival; of too many the newest `most`. */
export function withChanges<Message extends Placed>(list: readonly Message[], changed: readonly Message[], most: number): Message[] {
  if (!changed.length) return [...list];
  const byId = new Map(list.map((message) => [message.id, message]));
  let inOrder = true;
  let last = list.at(-1)?.place ?? -Infinity;
  for (const message of changed) {
    if (!byId.has(message.id)) {
      inOrder &&= message.place > last;
      last = message.place;
    }
    byId.set(message.id, message);
  }
  const all = [...byId.values()];
  if (!inOrder) all.sort((a, b) => a.place - b.place);
  return all.length > most ? all.slice(all.length - most) : all;
}

export const MAILBAG_VIEWS = ['all', 'unanswered', 'asked', 'hidden'] as const;
/** What of the mailbag is looked at. `asked`: what looks like a question, and has not been answered. */
export type MailbagView = (typeof MAILBAG_VIEWS)[number];

/** Whether a message belongs to what is looked at. What the channels themselves wrote is nothing that waits. */
export function belongsTo(
  view: MailbagView,
  message: { words: string; standing: WriterStanding; state: string; answeredAt: number | null; held?: string | null },
): boolean {
  const waits = message.state === 'shown' && message.standing !== 'own' && message.answeredAt === null;
  if (view === 'unanswered') return waits;
  if (view === 'asked') return waits && looksAsked(message.words);
  // What is held back is looked at here, also where it is seen there all the same.
  if (view === 'hidden') return message.state !== 'shown' || (message.held ?? null) !== null;
  return true;
}

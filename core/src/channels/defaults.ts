// What a channel's shows are placed with unless the show says otherwise. A network's own defaults are
// usually wrong for a station, so ours are kept with the channel.
import type { Audience, Licence, MessageRule, RuleSheet, Visibility } from './rules';

/** Networks list a coming show at its start, which is too late for whoever plans an evening. */
const USUALLY_LISTED_DAYS = 7;

export const CATEGORIES = ['science', 'community', 'learning', 'music', 'other'] as const;
export type Category = (typeof CATEGORIES)[number];

/** Null where the network has no such choice. `rewind`: viewers may go back; `replay`: the recording may be watched there afterwards. */
export interface ChannelDefaults {
  visibility: Visibility;
  category: Category | null;
  /** BCP 47 language tag. */
  language: string | null;
  messages: MessageRule | null;
  delayS: number | null;
  rewind: boolean | null;
  replay: boolean | null;
  licence: Licence | null;
  /** How many days before its start a coming show is listed there, 0 for at its start. */
  listedDays: number | null;
  /** Whether the network may put adverts into it. */
  adverts: boolean | null;
  /** Whether messages stay beneath the recording. */
  keepsMessages: boolean | null;
}

/** Where a show is seen: in these countries alone, or everywhere but in them. Codes of two letters, ISO 3166-1. */
export interface CountryLimit {
  rule: 'only in' | 'everywhere but in';
  of: string[];
}

/** What one show asks of one channel, where that differs from the channel's defaults or has none. */
export interface AiringChoices extends Partial<{ [Field in keyof ChannelDefaults]: NonNullable<ChannelDefaults[Field]> }> {
  audience?: Audience;
  tags?: string[];
  /** Whether other sites may show it. */
  embedding?: boolean;
  /** Whether somebody paid to be mentioned. */
  paidMention?: boolean;
  /** Whether it begins there by itself once a picture arrives, where that is a choice. */
  beginsByItself?: boolean;
  /** Seconds between two messages of one writer; how many days old their account is; characters of a message: each at least. */
  messagesEveryS?: number;
  writersAgedDays?: number;
  shortestMessage?: number;
  countries?: CountryLimit;
  sharing?: Sharing;
  /** The name of a playlist there that it is put into; empty: into none. */
  playlist?: string;
  /** The address there of what is shown to viewers next; empty: nothing of ours. */
  next?: string;
}

/** Everything that is chosen for one airing: the show's choices over the channel's defaults, and only what the network offers. */
export interface AiringSettings extends ChannelDefaults {
  audience: Audience | null;
  tags: string[] | null;
  embedding: boolean | null;
  paidMention: boolean | null;
  beginsByItself: boolean | null;
  messagesEveryS: number | null;
  writersAgedDays: number | null;
  shortestMessage: number | null;
  countries: CountryLimit | null;
  sharing: Sharing | null;
  playlist: string | null;
  next: string | null;
}

/** What may be chosen of writing beneath a show, and changed while it is on. */
export const WRITING = ['messages', 'messagesEveryS', 'writersAgedDays', 'shortestMessage'] as const;
export type Writing = Partial<{ [Name in (typeof WRITING)[number]]: NonNullable<AiringSettings[Name]> }>;

/** What a network offers of it. Fewer than two: there is no choice. */
export function writingOffered(rules: RuleSheet): { [Name in (typeof WRITING)[number]]: readonly NonNullable<AiringSettings[Name]>[] } {
  const { messages, messageIntervalsS, writerAgesDays, shortestMessages } = rules;
  return { messages, messagesEveryS: messageIntervalsS, writersAgedDays: writerAgesDays, shortestMessage: shortestMessages };
}

/** When a show is shared on: once it is placed, once it has begun, or once it is over. */
export const SHARED_WHEN = ['at placing', 'at the start', 'afterwards'] as const;

/** On whose pages there a show stands too, by their identifiers there. They have to accept, unless they are one's own. */
export interface Sharing {
  with: string[];
  when: (typeof SHARED_WHEN)[number];
}

export const SHARED_WITH_NOBODY: Sharing = { with: [], when: 'at placing' };

/** One of those pages, and what it has answered. */
export interface Share {
  id: string;
  name: string;
  answer: 'asked' | 'accepted' | 'declined';
}

/** Seen everywhere: no country is named. */
export const EVERYWHERE: CountryLimit = { rule: 'only in', of: [] };

export function settingsFor(choices: AiringChoices, defaults: ChannelDefaults, rules: RuleSheet): AiringSettings {
  const plain = defaultsFor(rules);
  const offered = <T>(given: T | null | undefined, kept: T | null, open: boolean): T | null => (open ? (given ?? kept) : null);
  return {
    // Not looked at against what is offered: the check says so where it is not.
    visibility: choices.visibility ?? (rules.visibilities.includes(defaults.visibility) ? defaults.visibility : plain.visibility),
    category: offered(choices.category, defaults.category ?? plain.category, rules.categories),
    language: offered(choices.language, defaults.language ?? plain.language, rules.languages),
    messages: offered(choices.messages, defaults.messages ?? plain.messages, rules.messages.length > 0),
    delayS: offered(choices.delayS, defaults.delayS ?? plain.delayS, rules.delaysS.length > 0),
    rewind: offered(choices.rewind, defaults.rewind ?? plain.rewind, rules.rewindMaxMs !== null),
    replay: offered(choices.replay, defaults.replay ?? plain.replay, rules.replayIsAChoice),
    audience: offered(choices.audience, 'everybody', rules.audiences.length > 0),
    tags: offered(choices.tags, [], rules.tagsMax !== null),
    embedding: offered(choices.embedding, true, rules.embeddingIsAChoice),
    paidMention: offered(choices.paidMention, false, rules.paidMentionIsTold),
    beginsByItself: offered(choices.beginsByItself, false, rules.startsThereIsAChoice),
    licence: offered(choices.licence, defaults.licence ?? plain.licence, rules.licences.length > 0),
    listedDays: offered(choices.listedDays, defaults.listedDays ?? plain.listedDays, rules.listingDays.length > 0),
    adverts: offered(choices.adverts, defaults.adverts ?? plain.adverts, rules.adverts === 'a choice'),
    keepsMessages: offered(choices.keepsMessages, defaults.keepsMessages ?? plain.keepsMessages, rules.messagesAfterwards === 'a choice'),
    messagesEveryS: offered(choices.messagesEveryS, 0, rules.messageIntervalsS.length > 0),
    writersAgedDays: offered(choices.writersAgedDays, 0, rules.writerAgesDays.length > 0),
    shortestMessage: offered(choices.shortestMessage, 0, rules.shortestMessages.length > 0),
    sharing: offered(choices.sharing, SHARED_WITH_NOBODY, rules.sharing !== null),
    countries: offered(choices.countries, EVERYWHERE, rules.countriesAreAChoice),
    playlist: offered(choices.playlist, '', rules.playlists),
    next: offered(choices.next, '', rules.nextIsAChoice),
  };
}

/**
 * The defaults of a channel that nobody has set up yet: seen by everyone, listed a week before, the shortest delay, everything on
 * but adverts.
 */
export function defaultsFor(rules: RuleSheet): ChannelDefaults {
  return {
    visibility: rules.visibilities[0]!,
    category: rules.categories ? 'community' : null,
    language: rules.languages ? 'en' : null,
    messages: rules.messages[0] ?? null,
    delayS: rules.delaysS[0] ?? null,
    rewind: rules.rewindMaxMs === null ? null : true,
    replay: rules.replayIsAChoice ? true : null,
    licence: rules.licences[0] ?? null,
    listedDays: rules.listingDays.length ? USUALLY_LISTED_DAYS : null,
    adverts: rules.adverts === 'a choice' ? false : null,
    keepsMessages: rules.messagesAfterwards === 'a choice' ? true : null,
  };
}

/** Whether `tag` is a well-formed language tag (BCP 47, by ECMA-402). */
export function isLanguage(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
}

/** The fields of `defaults` that the network does not offer, each with what it does offer, in words. Empty: all can be had. */
export function defaultsNotOffered(defaults: ChannelDefaults, rules: RuleSheet): Partial<Record<keyof ChannelDefaults, string>> {
  const wrong: Partial<Record<keyof ChannelDefaults, string>> = {};
  const offered = (field: keyof ChannelDefaults, ok: boolean, words: string) => {
    if (!ok) wrong[field] = words;
  };
  const orNull = <T>(list: readonly T[], value: T | null) => (list.length ? value !== null && list.includes(value) : value === null);
  offered('visibility', rules.visibilities.includes(defaults.visibility), `This channel’s shows can be for ${rules.visibilities.join(', ')}.`);
  offered('category', orNull(rules.categories ? CATEGORIES : [], defaults.category), 'Choose a category from the list.');
  offered(
    'language',
    rules.languages ? defaults.language !== null && isLanguage(defaults.language) : defaults.language === null,
    'Choose a language from the list.',
  );
  offered('messages', orNull(rules.messages, defaults.messages), 'This channel offers no such choice for messages.');
  offered('delayS', orNull(rules.delaysS, defaults.delayS), `The delay can be ${rules.delaysS.join(', ')} s.`);
  offered('rewind', (rules.rewindMaxMs === null) === (defaults.rewind === null), 'This channel has no rewind to choose.');
  offered('replay', rules.replayIsAChoice === (defaults.replay !== null), 'This channel does not let you choose about replays.');
  offered('licence', orNull(rules.licences, defaults.licence), 'This channel offers no such terms.');
  offered('listedDays', orNull(rules.listingDays, defaults.listedDays), `Shows can be listed ${rules.listingDays.join(', ')} days before.`);
  offered('adverts', (rules.adverts === 'a choice') === (defaults.adverts !== null), 'This channel does not let you choose about adverts.');
  offered(
    'keepsMessages',
    (rules.messagesAfterwards === 'a choice') === (defaults.keepsMessages !== null),
    'This channel does not let you choose what becomes of messages.',
  );
  return wrong;
}

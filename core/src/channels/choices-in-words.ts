// What is chosen about an airing, in words: the same on the sheet, before placing and where it differs from what stands there.
import type { AiringSettings, CountryLimit, Share, Sharing } from './defaults';
import { listed } from '../text/listed';
import type { Audience, Licence, MessageRule } from './rules';

export const AUDIENCE_WORDS: Record<Audience, string> = { everybody: 'everybody', adults: 'adults, 18 and over', children: 'children' };
export const MESSAGE_WORDS: Record<MessageRule, string> = {
  everyone: 'from everyone',
  followers: 'from followers only',
  members: 'from members only',
  off: 'off',
};
export const LICENCE_WORDS: Record<Licence, string> = {
  'all rights kept': 'all rights kept',
  'CC BY 4.0': 'CC BY 4.0: anybody may use it and says whose it is',
};

/** A language's name in British English; the tag itself (BCP 47) where it has none. */
export const languageName = (tag: string): string => new Intl.DisplayNames('en-GB', { type: 'language' }).of(tag) ?? tag;

const REGIONS = new Intl.DisplayNames('en-GB', { type: 'region', fallback: 'none' });
/** A country's name in British English, by its code of two letters (ISO 3166-1); the code where there is none. */
export const countryName = (code: string): string => REGIONS.of(code) ?? code;

const LETTERS = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];
/** Codes that name no country but a union, what is not known, or a test. */
const NO_COUNTRIES = new Set(['EU', 'EZ', 'UN', 'QO', 'XA', 'XB', 'ZZ']);
let countries: readonly string[] | undefined;

/** The codes of all countries by ISO 3166-1, in the order of their names. Codes that were given up are not among them. */
export function allCountries(): readonly string[] {
  return (countries ??= LETTERS.flatMap((first) => LETTERS.map((second) => first + second))
    .filter((code) => !NO_COUNTRIES.has(code) && REGIONS.of(code) !== undefined && Intl.getCanonicalLocales(`und-${code}`)[0] === `und-${code}`)
    .sort((a, b) => countryName(a).localeCompare(countryName(b), 'en-GB')));
}

/** Whether `code` is one of `allCountries`. */
export const isCountry = (code: unknown): code is string => typeof code === 'string' && allCountries().includes(code);

/** "only in Ireland and Wales"; null: it is seen everywhere. */
export const sayCountries = ({ rule, of }: CountryLimit): string | null => (of.length ? `${rule} ${listed(of.map(countryName))}` : null);

/** Each limit of writing in words; 0 is none. */
export const WRITING_LIMIT_WORDS = {
  messagesEveryS: (seconds: number) => (seconds === 0 ? 'as often as they like' : seconds === 60 ? 'once a minute' : `every ${seconds} seconds`),
  writersAgedDays: (days: number) => (days === 0 ? 'accounts of any age' : `accounts ${days} ${days === 1 ? 'day' : 'days'} old or more`),
  shortestMessage: (characters: number) => (characters === 0 ? 'messages of any length' : `messages of ${characters} characters or more`),
} as const;
export const WRITING_LIMITS = Object.keys(WRITING_LIMIT_WORDS) as (keyof typeof WRITING_LIMIT_WORDS)[];

/** "listed from 7 days before", "listed at its start". */
export const sayListing = (days: number): string => (days === 0 ? 'at its start' : `from ${days} day${days === 1 ? '' : 's'} before`);

/** What is chosen, each as some words; what goes without saying is left out. */
export function sayChoices(settings: Partial<AiringSettings>): string[] {
  const { audience, countries: limit, category, language, messages, licence, listedDays, tags, playlist, next } = settings;
  const { adverts, paidMention, embedding, replay, rewind, keepsMessages, beginsByItself, delayS } = settings;
  return [
    audience && audience !== 'everybody' && `for ${AUDIENCE_WORDS[audience]}`,
    limit && sayCountries(limit),
    settings.sharing?.with.length && `shared on with ${settings.sharing.with.length} ${settings.sharing.when}`,
    category,
    language && languageName(language),
    messages && `messages ${MESSAGE_WORDS[messages]}`,
    ...WRITING_LIMITS.map((name) => settings[name] && WRITING_LIMIT_WORDS[name](settings[name])),
    delayS && `${delayS} s late`,
    listedDays !== null && listedDays !== undefined && `listed ${sayListing(listedDays)}`,
    beginsByItself && 'begins by itself',
    rewind === false && 'viewers cannot go back',
    replay === false && 'no recording afterwards',
    keepsMessages === false && 'messages go with the end',
    licence && licence !== 'all rights kept' && licence,
    adverts && 'with adverts',
    paidMention && 'with a paid mention',
    embedding === false && 'not on other sites',
    playlist && `in the playlist “${playlist}”`,
    next && 'followed by another',
    tags?.length && `tagged ${tags.join(', ')}`,
  ].filter((words): words is string => typeof words === 'string' && words !== '');
}

const CHOICE_NAMES: Record<keyof AiringSettings, string> = {
  visibility: 'for',
  category: 'category',
  language: 'language',
  messages: 'messages',
  delayS: 'seen later by',
  rewind: 'going back',
  replay: 'recording afterwards',
  licence: 'terms of use',
  listedDays: 'listed',
  adverts: 'adverts',
  keepsMessages: 'messages afterwards',
  audience: 'made for',
  tags: 'tags',
  embedding: 'on other sites',
  paidMention: 'paid mention',
  beginsByItself: 'begins by itself',
  messagesEveryS: 'how often one writes',
  writersAgedDays: 'who writes',
  shortestMessage: 'how long messages are',
  countries: 'seen',
  sharing: 'shared on',
  playlist: 'playlist',
  next: 'shown next',
};

/** Each choice with its name, what goes without saying too: "adverts: yes". For two sides that differ. */
export function nameChoices(chosen: Partial<AiringSettings>): string[] {
  const said = (name: keyof AiringSettings, value: unknown): string => {
    if (name === 'countries') return sayCountries(value as CountryLimit) ?? 'everywhere';
    if (name === 'messagesEveryS' || name === 'writersAgedDays' || name === 'shortestMessage') return WRITING_LIMIT_WORDS[name](value as number);
    if (name === 'sharing') return (value as Sharing).with.length ? `with ${(value as Sharing).with.length}, ${(value as Sharing).when}` : 'with nobody';
    if (name === 'tags') return (value as string[]).join(', ') || 'none';
    if (name === 'listedDays') return sayListing(value as number);
    if (name === 'delayS') return `${value as number} s`;
    if (name === 'language') return languageName(value as string);
    if (name === 'audience') return AUDIENCE_WORDS[value as Audience];
    if (name === 'messages') return MESSAGE_WORDS[value as MessageRule];
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    return (value as string) || 'none';
  };
  const names = Object.keys(chosen) as (keyof AiringSettings)[];
  return names.flatMap((name) => ((chosen[name] ?? null) === null ? [] : [`${CHOICE_NAMES[name]}: ${said(name, chosen[name]!)}`]));
}

/** "Fell Valley Library has not answered yet." */
export function sayShare({ name, answer }: Share): string {
  if (answer === 'accepted') return `Shared on with ${name}.`;
  return answer === 'declined' ? `${name} does not share it.` : `${name} has not answered yet.`;
}

// What stands between a show and each of its channels, judged once for the whole sheet: its head counts it, its sections say it
// where it can be put right, the pictures of the channels show it, and the summary before placing repeats it.
import { NETWORK_NAMES, type AiringView, type ChannelView, type FieldToLook, type ShowDraft, type ShowView } from '@lantern/contract';
import {
  checkShow,
  datedWords,
  factsToCheck,
  mayBroadcast,
  MINUTE_MS,
  sayFinding,
  settingsFor,
  type Filling,
  type Finding,
  type Instant,
  type Severity,
  type ShowFacts,
  type Subject,
} from '@lantern/core';
import { standingOf } from '../channels/standing';
import type { SectionId } from './sections';
import { variantOf } from './sheet-draft';
import type { ShowClash } from './show-clashes';

/** "Reelmoor", or the name of a channel that was typed in. */
export const placeOf = ({ network, name }: Pick<ChannelView, 'network' | 'name'>): string => (network === 'typed-in' ? name : NETWORK_NAMES[network]);

/** The facts of the show as one channel's rules look at them. */
function factsFor(draft: ShowDraft, show: ShowView, channel: ChannelView, filling: Filling): ShowFacts {
  const variant = variantOf(draft, channel.id);
  const airing = show.airings.find((each) => each.channel.id === channel.id);
  const { visibility, audience, messages } = settingsFor(variant.choices, channel.defaults, channel.rules);
  return factsToCheck({
    ...{ title: draft.title ?? '', description: draft.description ?? '', thumbnailAlternative: draft.thumbnailAlternative ?? '', variant },
    filling: { ...filling, watchUrl: airing?.watchUrl ?? null },
    startsAt: filling.startsAt,
    lengthMs: (draft.lengthMin || 0) * MINUTE_MS,
    thumbnail: show.thumbnail,
    settings: { visibility, audience, messages },
    stands: airing ?? null,
  });
}

/** How much of a show may still be changed: all of it, its words alone (on air), or nothing. */
export type Changeable = 'all' | 'words' | 'nothing';

export interface Judged {
  channel: ChannelView;
  airing: AiringView | null;
  facts: ShowFacts;
  findings: Finding[];
  clashes: ShowClash[];
  /** What keeps it from being placed there, in words: rules and clashes alike. */
  objections: string[];
  /** What does not, and is good to know before. */
  cautions: string[];
}

interface Judging {
  show: ShowView;
  draft: ShowDraft;
  channels: readonly ChannelView[];
  filling: Filling;
  clashes: readonly ShowClash[];
  changeable: Changeable;
  now: Instant;
}

/** Each channel with everything that is to be said about the show on it. */
export function judgedOn({ show, draft, channels, filling, clashes, changeable, now }: Judging): Judged[] {
  return channels.map((channel) => {
    const facts = factsFor(draft, show, channel, filling);
    // Of what is over nobody asks any more whether it could begin; on air only words can still be wrong.
    const all = changeable === 'nothing' ? [] : checkShow(facts, channel.rules, now);
    const findings = changeable === 'words' ? all.filter(({ subject }) => subject === 'title' || subject === 'description') : all;
    const own = clashes.filter(({ channelId }) => channelId === channel.id);
    const words = (severity: Severity) => [
      ...findings.filter((finding) => finding.severity === severity).map((finding) => sayFinding(finding, placeOf(channel), draft.zone)),
      ...own.filter((clash) => clash.severity === severity).map((clash) => clash.words),
    ];
    const airing = show.airings.find((each) => each.channel.id === channel.id) ?? null;
    return { channel, airing, facts, findings, clashes: own, objections: words('objection'), cautions: words('caution') };
  });
}

/** Something that a section is to decide. */
export interface Need {
  key: string;
  section: SectionId;
  /** What stands against placing, or only wants a look. */
  kind: 'refusal' | 'caution';
  words: string;
  /** On which channel; null: it concerns the show. */
  channel: ChannelView | null;
  /** What can be put right by a press. */
  finding?: Finding;
  clash?: ShowClash;
  /** What was carried over from another date. */
  toLook?: FieldToLook;
}

const SECTION_OF: Record<Subject, SectionId> = {
  title: 'what',
  description: 'what',
  startsAt: 'when',
  length: 'when',
  channels: 'where',
  visibility: 'audience',
  thumbnail: 'picture',
};
const SECTION_TO_LOOK: Record<FieldToLook, SectionId> = { title: 'what', description: 'what', time: 'when', people: 'people', picture: 'picture' };
const LOOK_WORDS: Record<FieldToLook, string> = {
  title: 'Look at the title',
  description: 'Look at the text',
  people: 'Look at the guests',
  picture: 'Look at the picture',
  time: 'Look at the time: clocks are changed over it',
};

/** Everything that is to be decided, in the order of the sheet's sections and of the channels. `clashes`: of the whole sheet. */
export function needsOf(judged: readonly Judged[], clashes: readonly ShowClash[], draft: ShowDraft, changeable: Changeable): Need[] {
  if (changeable === 'nothing') return [];
  const looks = (draft.toLook ?? []).map((field): Need => {
    const words = field === 'title' || field === 'description' ? datedWords(draft[field] ?? '') : [];
    const about = words.length ? `: “${words.slice(0, 3).join('”, “')}” may be about another date` : '';
    return { key: `look ${field}`, section: SECTION_TO_LOOK[field], kind: 'caution', words: `${LOOK_WORDS[field]}${about}.`, channel: null, toLook: field };
  });
  const whole = clashes
    .filter(({ channelId }) => channelId === null)
    .map((clash): Need => ({ key: clash.words, section: 'people', kind: 'caution', words: clash.words, channel: null, clash }));
  const ofChannels = judged.flatMap(({ channel, findings, clashes: own }): Need[] => [
    ...(channel.access === 'good' && (channel.network === 'typed-in' || mayBroadcast(channel.conditions))
      ? []
      : [
          {
            key: `standing ${channel.id}`,
            section: 'where',
            kind: 'refusal',
            words: `${channel.name}, ${placeOf(channel)}: ${standingOf(channel).words}`,
            channel,
          } as Need,
        ]),
    ...findings
      .filter(({ severity }) => severity === 'objection')
      .map((finding): Need => {
        const words = sayFinding(finding, placeOf(channel), draft.zone);
        return { key: `${finding.code} ${channel.id}`, section: SECTION_OF[finding.subject], kind: 'refusal', words, channel, finding };
      }),
    ...own.map((clash): Need => ({
      key: `${clash.words} ${channel.id}`,
      section: 'where',
      kind: clash.severity === 'objection' ? 'refusal' : 'caution',
      words: clash.words,
      channel,
      clash,
    })),
  ]);
  return merged([...looks, ...whole, ...ofChannels]);
}

/** What all channels say in the same words (no title, a start that has passed) is said once. */
function merged(needs: readonly Need[]): Need[] {
  const seen = new Set<string>();
  return needs.filter(({ section, words }) => {
    const key = `${section} ${words}`;
    if (seen.has(key)) return false;
    return seen.add(key);
  });
}

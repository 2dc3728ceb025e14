// A rule sheet as sentences, made from the same figures that the checks use, so that page and check
// cannot disagree.
import { DAY_MS } from '../time/instant';
import { sayLength } from '../time/zones';
import { listed } from '../text/listed';
import { sayListing } from './choices-in-words';
import type { FixedOnAir, LockedField, MessageRule, RuleNotice, RuleSheet, ThumbnailRule } from './rules';

export interface RuleParagraph {
  heading: 'When' | 'What is locked' | 'Words' | 'Picture' | 'Who sees it' | 'Lines and signal' | 'On air' | 'Afterwards';
  sentences: string[];
}

const count = (n: number) => n.toLocaleString('en-GB');
/** "10 days", "3 h", "15 min": a length as rules speak of it. */
export function sayReach(ms: number): string {
  if (ms < 2 * DAY_MS || ms % DAY_MS) return sayLength(ms);
  return `${ms / DAY_MS} days`;
}

/** The whole sheet in words, heading by heading; headings without a rule are left out. */
export function sayRules(rules: RuleSheet): RuleParagraph[] {
  const paragraphs: RuleParagraph[] = [
    { heading: 'When', sentences: sayWhenRules(rules) },
    { heading: 'What is locked', sentences: sayLocks(rules.lockedAfterPlacing, rules.network === 'typed-in') },
    { heading: 'Words', sentences: sayWordRules(rules) },
    { heading: 'Picture', sentences: rules.thumbnail ? sayPictureRules(rules.thumbnail) : [] },
    { heading: 'Who sees it', sentences: rules.network === 'typed-in' ? [] : sayAudienceRules(rules) },
    { heading: 'Lines and signal', sentences: sayLineRules(rules) },
    { heading: 'On air', sentences: sayAirRules(rules) },
    { heading: 'Afterwards', sentences: sayAfterwards(rules) },
  ];
  return paragraphs.filter(({ sentences }) => sentences.length > 0);
}

function sayWhenRules(rules: RuleSheet): string[] {
  if (rules.network === 'typed-in') return [];
  if (!rules.maySchedule) return ['Nothing can be planned ahead: the show begins there at the moment you go on air.'];
  const said: string[] = [];
  if (rules.furthestAheadMs !== null) said.push(`A show can be placed up to ${sayReach(rules.furthestAheadMs)} ahead.`);
  said.push(rules.leastLeadMs > 0 ? `It must be placed at least ${sayReach(rules.leastLeadMs)} before its start.` : 'It can be placed until its very start.');
  if (rules.betterLeadMs !== null) said.push(`At least ${sayReach(rules.betterLeadMs)} before is recommended.`);
  said.push(rules.startGridMs === 60_000 ? 'Shows start on any full minute.' : `Starts fall on every ${sayLength(rules.startGridMs)} of the hour.`);
  const { earliestMs, latestMs } = rules.startWindow;
  if (earliestMs !== null) said.push(earliestMs === 0 ? 'It cannot begin before its time.' : `It can begin from ${sayLength(-earliestMs)} before its time.`);
  said.push(latestMs === null ? 'There is no limit to beginning late.' : `If it has not begun ${sayLength(latestMs)} after its time, it lapses.`);
  return said;
}

const LOCKS: Record<LockedField, string> = {
  account: 'Once placed, the account cannot be changed.',
  'start time': 'Once placed, the start cannot be moved: it can only be withdrawn and placed again.',
  visibility: 'Once placed, who may see it cannot be changed.',
  everything: 'Once it is there, nothing can be changed.',
};

function sayLocks(locked: readonly LockedField[], typedIn: boolean): string[] {
  if (typedIn) return [];
  return locked.length ? locked.map((field) => LOCKS[field]) : ['Nothing: all can be changed after placing.'];
}

function sayWordRules(rules: RuleSheet): string[] {
  const said: string[] = [];
  if (!rules.takesTitle) said.push('There is no title: title and text go out as one text.');
  else if (rules.titleMax !== null) said.push(`Titles have ${count(rules.titleMax)} characters at most.`);
  if (rules.textMax !== null) said.push(`Texts have ${count(rules.textMax)} characters at most.`);
  if (rules.categories && rules.languages) said.push('A category and a language go with it.');
  if (rules.linkCounts !== null) said.push(`A web address counts ${rules.linkCounts} of them, however long it is.`);
  return said;
}

function sayPictureRules(rule: ThumbnailRule): string[] {
  const shape = Math.abs(rule.shape - 16 / 9) < 0.01 ? '16 to 9' : `${Math.round(rule.shape * 10) / 10} to 1`;
  const types = rule.types.map((type) => (type === 'image/jpeg' ? 'JPEG' : 'PNG'));
  const said = [`The picture is ${shape}, at least ${rule.minWidth}×${rule.minHeight}, ${listed(types, 'or')}, ${rule.maxBytes / 1_000_000} MB at most.`];
  if (rule.alternativeNeeded) said.push('It needs words for those who cannot see it.');
  said.push(rule.optional ? 'A show may also go without one.' : 'A show cannot be placed without one.');
  return said;
}

const WHO: Record<MessageRule, string> = { everyone: 'everyone', followers: 'followers only', members: 'members only', off: 'nobody' };

function sayAudienceRules(rules: RuleSheet): string[] {
  const said = [rules.visibilities.length === 1 ? `Shows are for ${rules.visibilities[0]}.` : `Shows can be for ${listed(rules.visibilities, 'or')}.`];
  if (rules.messages.length)
    said.push(
      `Messages come from ${listed(
        rules.messages.map((who) => WHO[who]),
        'or',
      )}.`,
    );
  const limits = [
    rules.messageIntervalsS.length > 1 && 'how often each writes',
    rules.writerAgesDays.length > 1 && 'how old their accounts are',
    rules.shortestMessages.length > 1 && 'how short a message may be',
  ].filter((words) => words !== false);
  if (limits.length) said.push(`You may limit ${listed(limits)}.`);
  if (rules.countriesAreAChoice) said.push('They can be kept to some countries, or from some.');
  if (rules.sharing) said.push(`A show can be shared on to ${rules.sharing}; partners have to accept.`);
  if (rules.listingDays.length)
    said.push(
      `You choose when a coming show is listed, from ${sayListing(Math.max(...rules.listingDays)).slice(5)} or later; the network itself lists it at its start.`,
    );
  if (rules.audiences.includes('children')) said.push('A programme for children has no messages; to have none, switch them off instead.');
  if (rules.promotion === 'only after the end') said.push('It may be promoted against payment only after its end.');
  if (rules.promotion === 'never') said.push('It may not be promoted against payment.');
  return said;
}

function sayLineRules(rules: RuleSheet): string[] {
  const said: string[] = [];
  if (rules.network !== 'typed-in') {
    if (rules.lines === 'named') said.push('The channel has as many named lines as you like, and each can be used again.');
    if (rules.lines === 'one per show') said.push('Each show gets a line of its own, good for that show only.');
    if (rules.lines === 'one lasting') said.push('The channel has one line, and it lasts.');
    if (!rules.severalAtOnce) said.push('Only one show can be on air there at a time.');
  }
  if (rules.video) {
    const { minKbps, maxKbps, maxHeight } = rules.video;
    const rate = minKbps === null ? `up to ${count(maxKbps)}` : `${count(minKbps)} to ${count(maxKbps)}`;
    said.push(`It takes pictures of up to ${maxHeight} lines at ${rate} kbit/s.`);
  }
  if (rules.keyFrameEveryMs !== null) said.push(`A key frame must come at least every ${sayLength(rules.keyFrameEveryMs)}.`);
  return said;
}

const FIXED_WORDS: Record<FixedOnAir, string> = {
  delayS: 'how late viewers see it',
  rewind: 'whether they may go back',
  replay: 'whether the recording may be watched',
  beginsByItself: 'how it begins',
  picture: 'its picture',
};

/** What stays as it is once a show has begun there, as a sentence. `place`: its network. */
export function sayFixedOnAir(fixed: readonly FixedOnAir[], place: string): string {
  const words = listed(fixed.map((each) => FIXED_WORDS[each]));
  return `${place} keeps ${words} as ${fixed.length > 1 ? 'they are' : 'it is'} once a show has begun there.`;
}

function sayAirRules(rules: RuleSheet): string[] {
  const said: string[] = [];
  if (rules.startsThere === 'told') said.push('A show becomes public when the network is told to; Noble Lantern tells it once the picture arrives.');
  if (rules.startsThere === 'by itself') said.push('A show becomes public by itself at its time, once a picture arrives.');
  if (rules.startsThere === 'on picture') said.push('A show becomes public by itself as soon as a picture arrives.');
  if (rules.startsThere === 'unknown') said.push('The service gets your picture. Whether viewers see it is not told.');
  if (rules.startsThereIsAChoice) said.push('It can also begin by itself when a picture arrives, if that is asked for at placing.');
  if (rules.fixedOnAir.length) said.push(`Once a show has begun, ${listed(rules.fixedOnAir.map((each) => FIXED_WORDS[each]))} cannot be changed.`);
  if (rules.delaysS.length) {
    const choice = rules.delaysS.length > 1 ? ', as you choose' : '';
    said.push(
      `Viewers see it ${listed(
        rules.delaysS.map((seconds) => `${seconds} s`),
        'or',
      )} late${choice}.`,
    );
  }
  if (rules.network !== 'typed-in')
    said.push(rules.rewindMaxMs === null ? 'Viewers cannot go back in it.' : `Viewers can go back up to ${sayLength(rules.rewindMaxMs)}, if you allow it.`);
  if (rules.adverts === 'a choice') said.push('You choose whether the network may put adverts into it.');
  if (rules.adverts === 'never') said.push('The network puts no adverts into it.');
  if (typeof rules.adverts === 'number') said.push(`The network puts adverts into every show after ${sayLength(rules.adverts)}.`);
  if (rules.network !== 'typed-in') said.push(sayWithoutPicture(rules.endsWithoutPictureMs));
  if (rules.longestMs !== null) said.push(`Every show is ended after ${sayReach(rules.longestMs)}.`);
  if (rules.recordingStopsMs !== null) said.push(`Nothing is recorded there past ${sayReach(rules.recordingStopsMs)}.`);
  return said;
}

/** What a network does when a picture stops. */
export function sayWithoutPicture(endsWithoutPictureMs: number | null): string {
  if (endsWithoutPictureMs === null) return 'When the picture stops, the show there waits for it.';
  if (endsWithoutPictureMs === 0) return 'When the picture stops, the show there is ended at once.';
  return `When the picture stops, the show there is ended after ${sayLength(endsWithoutPictureMs)}.`;
}

const WITHDRAWING: Record<RuleSheet['withdrawing'], string> = {
  'removes event and recording': 'Withdrawing removes the event there, and its recording too.',
  'removes event, keeps recording': 'Withdrawing removes the event there; a recording is kept.',
  'keeps the event, marked cancelled': 'Withdrawing leaves the event there, marked as cancelled.',
  'removes the post': 'Withdrawing removes the post there.',
  'nothing there': 'Withdrawing here changes nothing at the service: look after its own event page there.',
};

const MESSAGES_AFTERWARDS = {
  'a choice': 'You choose whether messages stay beneath the recording.',
  kept: 'Messages stay beneath it.',
  dropped: 'Messages are gone with the end.',
};

/** What becomes of a show there once it is over. */
export function sayAfterwards(rules: RuleSheet): string[] {
  const replay = rules.replayIsAChoice ? ['You choose whether the recording may be watched there.'] : [];
  const ending = rules.network === 'typed-in' ? [] : ['Ending a show there is final: it cannot begin again.'];
  const messages = rules.messagesAfterwards && MESSAGES_AFTERWARDS[rules.messagesAfterwards];
  const terms = rules.licences.length ? [`Others may use the recording as you say: ${listed([...rules.licences], 'or')}.`] : [];
  return [...ending, ...(rules.afterTheEnd ? [rules.afterTheEnd] : []), ...replay, ...(messages ? [messages] : []), ...terms, sayWithdrawing(rules)];
}

/** What still stands at the far end once a show was withdrawn; empty: nothing. */
export function sayWhatStays({ withdrawing }: Pick<RuleSheet, 'withdrawing'>): string {
  if (withdrawing === 'removes event, keeps recording') return 'Its recording still stands there: remove that there.';
  return withdrawing === 'keeps the event, marked cancelled' ? 'Its page still stands there, marked as cancelled.' : '';
}

/** What withdrawing a show does at the far end. */
export function sayWithdrawing(rules: RuleSheet): string {
  return WITHDRAWING[rules.withdrawing];
}

/** "titles of 80 characters": an announced limit. */
export function sayLimit({ limit, value }: Pick<RuleNotice, 'limit' | 'value'>): string {
  switch (limit) {
    case 'titleMax':
      return `titles of ${count(value)} characters`;
    case 'textMax':
      return `texts of ${count(value)} characters`;
    case 'furthestAheadMs':
      return `shows up to ${sayReach(value)} ahead`;
    case 'leastLeadMs':
      return `shows that are placed at least ${sayReach(value)} before their start`;
    case 'longestMs':
      return `shows of up to ${sayReach(value)}`;
  }
}

// Checks one show against one channel's rules. Runs on every key press on the show sheet and again
// on the server before placing, so that both say the same.
import type { Audience, MessageRule, RuleSheet, Visibility } from '../channels/rules';
import type { Finding } from '../channels/finding';
import { instant, MINUTE_MS, type Instant } from '../time/instant';
import { fillPlaceholders, withoutPlaceholder, type Filling } from './placeholders';
import { privateWords, withoutPrivate } from './private-words';
import { countCharacters, filled, shortenToFit, wordingFor } from './wording';

/** The facts of a show, as one channel gets it, that networks have rules about. */
export interface ShowFacts {
  title: string;
  description: string;
  /** What its placeholders are filled from; none: brackets are plain text. */
  filling?: Filling | null;
  /** Who may see it there, and whom it is for; not given: as the channel does by itself. */
  visibility?: Visibility;
  placedVisibility?: Visibility | null;
  audience?: Audience | null;
  messages?: MessageRule | null;
  /** Null while the sheet's date, time or zone cannot be read. */
  startsAt: Instant | null;
  lengthMs: number;
  /** The picture as it was chosen, in pixels: for each channel it is cropped and brought to what that takes. */
  thumbnail: { width: number; height: number } | null;
  /** What the picture shows, in words. */
  thumbnailAlternative: string;
  /** When it stands on the channel at this moment; null: it does not stand there. */
  placedAt: Instant | null;
}

/** What of a show's sheet and of one airing its channel's rules look at. */
export interface AiringToCheck {
  title: string;
  description: string;
  /** What differs on this channel; null or missing: nothing. */
  variant: { title: string | null; description: string | null } | null;
  filling: Filling;
  /** Null while date, time or zone cannot be read. */
  startsAt: number | null;
  lengthMs: number;
  thumbnail: ShowFacts['thumbnail'];
  thumbnailAlternative: string;
  settings: { visibility: Visibility; audience: Audience | null; messages: MessageRule | null };
  /** How it stands there; null: nobody has been asked. */
  stands: { placing: string; placedAt: number | null; visibility: Visibility } | null;
}

/** The variant where there is one, the common words otherwise. */
export function wordsOnChannel(common: { title: string; description: string }, variant: AiringToCheck['variant']): { title: string; description: string } {
  return { title: variant?.title ?? common.title, description: variant?.description ?? common.description };
}

/** An airing as rules see it: the same on the sheet while it is typed and at the moment of placing. */
export function factsToCheck({ startsAt, stands, settings, filling, lengthMs, thumbnail, thumbnailAlternative, ...words }: AiringToCheck): ShowFacts {
  const placed = stands?.placing === 'placed' ? stands : null;
  return {
    ...wordsOnChannel(words, words.variant),
    ...{ filling, lengthMs, thumbnail, thumbnailAlternative },
    ...settings,
    startsAt: startsAt === null ? null : instant(startsAt),
    placedAt: placed && placed.placedAt !== null ? instant(placed.placedAt) : null,
    placedVisibility: placed ? placed.visibility : null,
  };
}

/**
 * Everything that `rules` has to say about `show` at `now`, objections before cautions.
 * An empty list means that the network should accept it. A part of the lead time that would pass
 * while the host reads is not added: the network measures at the moment of placing, and so do we.
 */
export function checkShow(show: ShowFacts, rules: RuleSheet, now: Instant): Finding[] {
  const findings: Finding[] = [
    ...checkText(show, rules),
    ...checkAudience(show, rules),
    ...checkStart(show, rules, now),
    ...checkLength(show, rules),
    ...checkThumbnail(show, rules),
  ];
  return findings.sort((a, b) => Number(a.severity === 'caution') - Number(b.severity === 'caution'));
}

const objection = (finding: Omit<Finding, 'severity'>): Finding => ({ severity: 'objection', ...finding });
const caution = (finding: Omit<Finding, 'severity'>): Finding => ({ severity: 'caution', ...finding });

function checkText(show: ShowFacts, rules: RuleSheet): Finding[] {
  const findings: Finding[] = (['title', 'description'] as const).flatMap((subject) => [...checkPlaceholders(show, subject), ...checkPrivate(show, subject)]);
  const title = filled(show.title, show.filling);
  const text = filled(show.description, show.filling);
  if (!title) findings.push(objection({ code: 'title-missing', subject: 'title', facts: {} }));
  if (!rules.takesTitle) {
    if (wordingFor(show, rules).shortened) findings.push(caution({ code: 'text-shortened', subject: 'description', facts: { max: rules.textMax! } }));
    return findings;
  }
  const titleLength = countCharacters(title);
  if (rules.titleMax !== null && titleLength > rules.titleMax) {
    const facts = { length: titleLength, max: rules.titleMax };
    findings.push(
      objection({ code: 'title-too-long', subject: 'title', facts, fix: { text: shortenToFit(show.title.trim(), rules.titleMax, null, show.filling) } }),
    );
  }
  const textLength = countCharacters(text, rules.linkCounts);
  if (rules.textMax !== null && textLength > rules.textMax) {
    const facts = { length: textLength, max: rules.textMax };
    const fix = { text: shortenToFit(show.description.trim(), rules.textMax, rules.linkCounts, show.filling) };
    findings.push(objection({ code: 'text-too-long', subject: 'description', facts, fix }));
  }
  return findings;
}

/** One finding for those that nobody knows and one for those that are empty; its fix takes all of them out. */
function checkPlaceholders(show: ShowFacts, subject: 'title' | 'description'): Finding[] {
  if (!show.filling) return [];
  const { troubles } = fillPlaceholders(show[subject], show.filling);
  return (['unknown', 'empty'] as const).flatMap((why) => {
    const names = troubles.filter((trouble) => trouble.why === why).map(({ name }) => name);
    if (!names.length) return [];
    const text = names.reduce(withoutPlaceholder, show[subject]);
    return [objection({ code: `placeholder-${why}`, subject, facts: { name: names.join('} and {') }, fix: { text } })];
  });
}

/** What would let anybody in, or lead nobody anywhere, does not belong in a text for the public. */
function checkPrivate(show: ShowFacts, subject: 'title' | 'description'): Finding[] {
  // The house page's address is the station's own, up to its path.
  const own = show.filling ? (/^https?:\/\/[^/]+/.exec(show.filling.houseUrl)?.[0] ?? null) : null;
  const found = privateWords(show[subject], own);
  if (!found.length) return [];
  return [objection({ code: 'private-in-text', subject, facts: { what: found[0]!.what }, fix: { text: withoutPrivate(show[subject], found) } })];
}

function checkAudience(show: ShowFacts, rules: RuleSheet): Finding[] {
  const findings: Finding[] = [];
  const { visibility, placedVisibility, audience } = show;
  const subject = 'visibility' as const;
  const locked = rules.lockedAfterPlacing.includes('visibility') || rules.lockedAfterPlacing.includes('everything');
  if (visibility !== undefined && placedVisibility && locked && visibility !== placedVisibility) {
    findings.push(objection({ code: 'visibility-locked', subject, facts: { placed: placedVisibility }, fix: { visibility: placedVisibility } }));
  } else if (visibility !== undefined && !rules.visibilities.includes(visibility)) {
    findings.push(objection({ code: 'visibility-not-offered', subject, facts: { wanted: visibility }, fix: { visibility: rules.visibilities[0]! } }));
  }
  if (audience === 'children' && rules.audiences.includes('children') && show.messages !== 'off') {
    findings.push(caution({ code: 'children-no-messages', subject, facts: {} }));
  }
  return findings;
}

function checkStart(show: ShowFacts, rules: RuleSheet, now: Instant): Finding[] {
  const start = show.startsAt;
  if (start === null) return []; // The field's own message says that it cannot be read.
  if (show.placedAt !== null) {
    const locked = rules.lockedAfterPlacing.includes('start time') || rules.lockedAfterPlacing.includes('everything');
    if (locked && start !== show.placedAt) {
      return [objection({ code: 'start-locked', subject: 'startsAt', facts: { placedAt: show.placedAt }, fix: { startsAt: show.placedAt } })];
    }
    if (start === show.placedAt) return []; // Its lead time was kept when it was placed.
  }
  // A show may be placed in the minute in which it starts; typing it in takes that long.
  if (start < now - MINUTE_MS) {
    return [objection({ code: 'start-past', subject: 'startsAt', facts: {}, fix: { startsAt: nextPermitted(now, rules) } })];
  }
  if (!rules.maySchedule) return [caution({ code: 'begins-on-air', subject: 'channels', facts: { kind: rules.kind } })];
  if (rules.leastLeadMs > 0 && start - now < rules.leastLeadMs) {
    const fix = { startsAt: nextPermitted(now, rules) };
    return [objection({ code: 'start-too-soon', subject: 'startsAt', facts: { leadMs: rules.leastLeadMs }, fix })];
  }
  const offGrid = start % rules.startGridMs !== 0;
  const fix = { startsAt: Math.ceil(start / rules.startGridMs) * rules.startGridMs };
  const grid = offGrid ? [objection({ code: 'start-off-grid', subject: 'startsAt', facts: { gridMs: rules.startGridMs }, fix })] : [];
  // No fault of the show: it can be placed once it has come into reach.
  if (rules.furthestAheadMs !== null && start - now > rules.furthestAheadMs) {
    const facts = { aheadMs: rules.furthestAheadMs, from: start - rules.furthestAheadMs };
    return [...grid, caution({ code: 'start-too-far', subject: 'startsAt', facts })];
  }
  if (offGrid) return grid;
  if (rules.betterLeadMs !== null && start - now < rules.betterLeadMs) {
    return [caution({ code: 'start-late', subject: 'startsAt', facts: { leadMs: rules.betterLeadMs } })];
  }
  return [];
}

/** A minute of grace, so that the start is still permitted when the host presses Place. */
function nextPermitted(now: Instant, rules: RuleSheet): number {
  return Math.ceil((now + rules.leastLeadMs + MINUTE_MS) / rules.startGridMs) * rules.startGridMs;
}

function checkLength(show: ShowFacts, rules: RuleSheet): Finding[] {
  if (!(show.lengthMs > 0)) return [objection({ code: 'length-none', subject: 'length', facts: {} })];
  if (rules.longestMs !== null && show.lengthMs > rules.longestMs) {
    const facts = { longestMs: rules.longestMs };
    return [objection({ code: 'length-too-long', subject: 'length', facts, fix: { lengthMs: rules.longestMs } })];
  }
  if (rules.recordingStopsMs !== null && show.lengthMs > rules.recordingStopsMs) {
    return [caution({ code: 'recording-cut', subject: 'length', facts: { recordedMs: rules.recordingStopsMs } })];
  }
  return [];
}

function checkThumbnail(show: ShowFacts, rules: RuleSheet): Finding[] {
  const limits = rules.thumbnail;
  if (!limits) return [];
  const picture = show.thumbnail;
  const subject = 'thumbnail' as const;
  if (!picture)
    return [limits.optional ? caution({ code: 'thumbnail-missing', subject, facts: {} }) : objection({ code: 'thumbnail-needed', subject, facts: {} })];
  const findings: Finding[] = [];
  const { width, height } = picture;
  const { minWidth, minHeight } = limits;
  if (width < minWidth || height < minHeight) {
    findings.push(objection({ code: 'thumbnail-too-small', subject, facts: { width, height, minWidth, minHeight } }));
  }
  if (limits.alternativeNeeded && !show.thumbnailAlternative.trim()) findings.push(objection({ code: 'alternative-missing', subject, facts: {} }));
  return findings;
}

/**
 * What an announced change of rules means for a show: the findings that it will meet under `then` and
 * does not meet under `before`. Empty for a show that starts before the change is in force.
 */
export function checkAgainstChange(show: ShowFacts, before: RuleSheet, then: RuleSheet, from: Instant, now: Instant): Finding[] {
  if (show.startsAt === null || show.startsAt < from) return [];
  const known = new Set(checkShow(show, before, now).map(({ code }) => code));
  return checkShow(show, then, now).filter(({ code }) => !known.has(code));
}

/** The soonest start that all channels with these sheets take at `now`. Those that take nothing in advance take any. */
export function earliestStart(sheets: readonly RuleSheet[], now: Instant): Instant {
  const planned = sheets.filter(({ maySchedule }) => maySchedule);
  const gridMs = Math.max(MINUTE_MS, ...planned.map(({ startGridMs }) => startGridMs));
  const leadMs = Math.max(0, ...planned.map(({ leastLeadMs }) => leastLeadMs));
  return instant(Math.ceil((now + leadMs + MINUTE_MS) / gridMs) * gridMs);
}

// Checks one show against one channel's rules. Runs on every key press on the show sheet and again
// on the server before placing, so that both say the same.
import type { RuleSheet, ThumbnailType } from '../channels/rules';
import type { Finding } from '../findings';
import { MINUTE_MS, type Instant } from '../time/instant';

/** The facts of a show that networks have rules about. `thumbnail` is the picture as it would be sent. */
export interface ShowFacts {
  title: string;
  description: string;
  /** Null while the sheet's date, time or zone cannot be read. */
  startsAt: Instant | null;
  lengthMs: number;
  thumbnail: { width: number; height: number; bytes: number; type: ThumbnailType } | null;
}

/** 16:9 within one part in a hundred: encoders round odd sizes. */
const WIDE_SHAPE = 16 / 9;
const SHAPE_TOLERANCE = 0.01;

/** Length as the networks count it: Unicode code points. */
export function countCharacters(text: string): number {
  return [...text].length;
}

/**
 * Everything that `rules` has to say about `show` at `now`, objections before cautions.
 * An empty list means that the network should accept it. A part of the lead time that would pass
 * while the host reads is not added: the network measures at the moment of placing, and so do we.
 */
export function checkShow(show: ShowFacts, rules: RuleSheet, now: Instant): Finding[] {
  const findings: Finding[] = [...checkText(show, rules), ...checkStart(show, rules, now), ...checkLength(show, rules), ...checkThumbnail(show, rules)];
  return findings.sort((a, b) => Number(a.severity === 'caution') - Number(b.severity === 'caution'));
}

const objection = (finding: Omit<Finding, 'severity'>): Finding => ({ severity: 'objection', ...finding });
const caution = (finding: Omit<Finding, 'severity'>): Finding => ({ severity: 'caution', ...finding });

function checkText(show: ShowFacts, rules: RuleSheet): Finding[] {
  const findings: Finding[] = [];
  if (!show.title.trim()) findings.push(objection({ code: 'title-missing', subject: 'title', facts: {} }));
  const titleLength = countCharacters(show.title.trim());
  if (rules.titleMax !== null && titleLength > rules.titleMax) {
    findings.push(
      objection({
        code: 'title-too-long',
        subject: 'title',
        facts: { length: titleLength, max: rules.titleMax },
        fix: { text: shorten(show.title.trim(), rules.titleMax) },
      }),
    );
  }
  const textLength = countCharacters(show.description.trim());
  if (rules.textMax !== null && textLength > rules.textMax) {
    findings.push(
      objection({
        code: 'text-too-long',
        subject: 'description',
        facts: { length: textLength, max: rules.textMax },
        fix: { text: shorten(show.description.trim(), rules.textMax) },
      }),
    );
  }
  return findings;
}

/** Cuts `text` to `max` code points with an ellipsis, at a word's end where one lies in the last third. */
export function shorten(text: string, max: number): string {
  const characters = [...text];
  if (characters.length <= max) return text;
  const head = characters.slice(0, max - 1).join('');
  // A cut that falls between two words needs no going back.
  const lastSpace = characters[max - 1] === ' ' ? head.length : head.lastIndexOf(' ');
  return `${(lastSpace > (head.length * 2) / 3 ? head.slice(0, lastSpace) : head).trimEnd()}…`;
}

function checkStart(show: ShowFacts, rules: RuleSheet, now: Instant): Finding[] {
  const start = show.startsAt;
  if (start === null) return []; // The field's own message says that it cannot be read.
  if (!rules.maySchedule) return [objection({ code: 'cannot-schedule', subject: 'channels', facts: {} })];
  // A show may be placed in the minute in which it starts; typing it in takes that long.
  if (start < now - MINUTE_MS) {
    return [objection({ code: 'start-past', subject: 'startsAt', facts: {}, fix: { startsAt: nextPermitted(now, rules) } })];
  }
  if (rules.leastLeadMs > 0 && start - now < rules.leastLeadMs) {
    const fix = { startsAt: nextPermitted(now, rules) };
    return [objection({ code: 'start-too-soon', subject: 'startsAt', facts: { leadMs: rules.leastLeadMs }, fix })];
  }
  if (rules.furthestAheadMs !== null && start - now > rules.furthestAheadMs) {
    return [objection({ code: 'start-too-far', subject: 'startsAt', facts: { aheadMs: rules.furthestAheadMs } })];
  }
  if (start % rules.startGridMs !== 0) {
    const fix = { startsAt: Math.ceil(start / rules.startGridMs) * rules.startGridMs };
    return [objection({ code: 'start-off-grid', subject: 'startsAt', facts: { gridMs: rules.startGridMs }, fix })];
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
  if (!picture) return [caution({ code: 'thumbnail-missing', subject: 'thumbnail', facts: {} })];
  const findings: Finding[] = [];
  const subject = 'thumbnail' as const;
  if (picture.width < limits.minWidth || picture.height < limits.minHeight) {
    const { width, height } = picture;
    const facts = { width, height, minWidth: limits.minWidth, minHeight: limits.minHeight };
    findings.push(objection({ code: 'thumbnail-too-small', subject, facts }));
  }
  if (Math.abs(picture.width / picture.height / WIDE_SHAPE - 1) > SHAPE_TOLERANCE) {
    findings.push(objection({ code: 'thumbnail-shape', subject, facts: { width: picture.width, height: picture.height } }));
  }
  if (picture.bytes > limits.maxBytes) {
    findings.push(objection({ code: 'thumbnail-too-heavy', subject, facts: { bytes: picture.bytes, maxBytes: limits.maxBytes } }));
  }
  if (!limits.types.includes(picture.type)) {
    findings.push(objection({ code: 'thumbnail-type', subject, facts: { type: picture.type } }));
  }
  return findings;
}

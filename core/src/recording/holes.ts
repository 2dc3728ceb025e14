// Where the programme had the break card because the stage's line was gone, its recording has what the stage went on making:
// that came late, and stands in the pieces of its stretches. Knows nothing of files.
import { isEndOfSequence, isKeyFrame, isSequenceHeader, type FlvTag } from '../flv/tags';

/** From `atMs` of the programme on, this was in it. Times in ms. */
export interface ProgrammePart {
  atMs: number;
  /** The number of the stage's stretch; null: the break card, or an outside line. */
  stretch: number | null;
  /** Added to the stretch's own times. */
  shiftMs: number;
  /** The break card, while it was the stage that should have been seen: nobody had chosen it. */
  lost: boolean;
}

/** A stretch of which nothing was meant to be seen before both had agreed: never taken for the recording unless it came on. */
export interface KeptOut {
  keptOut: number;
}

export type PartNote = ProgrammePart | KeptOut;

interface Placed {
  stretch: number;
  shiftMs: number;
}

/** A part of the programme, from `fromMs` up to `toMs` (null: its end), in which the stage should have been seen. */
export interface Hole {
  fromMs: number;
  toMs: number | null;
  /** The stretch that was seen last before it; null: none was. */
  before: Placed | null;
  /** Whether it was seen until the hole began, so that its next picture joins on. */
  joinsOn: boolean;
  /** What ended it; null: no stretch did. */
  after: Placed | null;
}

/** Shorter than this, a card is not worth an edge. */
const LEAST_MS = 200;
/** A card that would be seen for less is left out, and the last picture stands, in ms. */
export const LEAST_OF_CARD_MS = 1_500;
const FRAME_MS = 33;
/** A picture was made so long before it came at the most: what is within it of a press that ended a break may be of the break. */
const OF_THE_BREAK_MS = 2_000;

/** The holes of one programme, by what was noted while it went out, in its order. */
export function holesOf(notes: readonly PartNote[]): Hole[] {
  const parts = notes.filter((note): note is ProgrammePart => 'atMs' in note);
  const holes: Hole[] = [];
  let open: Hole | null = null;
  let last: Placed | null = null;
  let onUntil: number | null = null;
  for (const { atMs, stretch, shiftMs, lost } of parts) {
    if (lost) open ??= { fromMs: atMs, toMs: null, before: last, joinsOn: onUntil !== null, after: null };
    else if (open) {
      holes.push({ ...open, toMs: atMs, after: stretch === null ? null : { stretch, shiftMs } });
      open = null;
    }
    if (stretch !== null) last = { stretch, shiftMs };
    onUntil = stretch !== null ? atMs : null;
  }
  if (open) holes.push(open);
  return holes.filter(({ fromMs, toMs }) => toMs === null || toMs - fromMs >= LEAST_MS);
}

/** The stretches whose pieces may belong into a hole, in order, of `there`. */
export function stretchesFor({ before, after }: Hole, notes: readonly PartNote[], there: readonly number[]): number[] {
  const keptOut = new Set(notes.flatMap((note) => ('keptOut' in note ? note.keptOut : [])));
  const ends = [before?.stretch, after?.stretch];
  return there
    .filter((number) => ends.includes(number) || (!keptOut.has(number) && number > (before?.stretch ?? 0) && number < (after?.stretch ?? Infinity)))
    .sort((a, b) => a - b);
}

/**
 * Fills one hole: is told which stretch is read, takes its tags from its first on, and gives those that belong into the hole, with
 * programme times that go on from `sent`, the last that went out of each kind. A stretch that was never in the programme begins
 * where the one before it ends: that is when its recorder began.
 */
export class HoleFilling {
  private readonly sent: { audio: number; video: number };
  private headers = new Map<FlvTag['kind'], FlvTag>();
  private shiftMs: number | null = null;
  private untilMs = Infinity;
  private begun = false;
  private joinsOn = false;
  /** Of a stretch that does not join on, nothing from before. */
  private readonly earliestMs: number;
  /** What is read gives nothing more to this hole. */
  over = false;

  constructor(
    private readonly hole: Hole,
    sent: { audio: number; video: number },
  ) {
    this.sent = { ...sent };
    this.earliestMs = hole.joinsOn ? -Infinity : hole.fromMs + OF_THE_BREAK_MS;
  }

  /** The time of the last tag that it gave, or that went out before. */
  get reachedMs(): number {
    return Math.max(this.sent.audio, this.sent.video);
  }

  begin(stretch: number): void {
    const { before, after, joinsOn, toMs } = this.hole;
    const placed = [before, after].find((each) => each?.stretch === stretch) ?? null;
    this.headers = new Map();
    this.shiftMs = placed?.shiftMs ?? null;
    this.joinsOn = joinsOn && stretch === before?.stretch;
    this.begun = this.over = false;
    // A stretch's own times begin with nought.
    this.untilMs = Math.min(toMs ?? Infinity, after && stretch !== after.stretch ? after.shiftMs : Infinity);
  }

  push(tag: FlvTag): FlvTag[] {
    if (tag.kind === 'script' || this.over || isEndOfSequence(tag)) return [];
    if (isSequenceHeader(tag)) {
      this.headers.set(tag.kind, tag);
      return [];
    }
    if (this.shiftMs === null) {
      if (!isKeyFrame(tag)) return [];
      this.shiftMs = Math.max(this.reachedMs + FRAME_MS, this.earliestMs) - tag.timestampMs;
    }
    const timestampMs = Math.round(tag.timestampMs + this.shiftMs);
    if (timestampMs >= this.untilMs) {
      this.over = true;
      return [];
    }
    if (timestampMs <= this.sent[tag.kind]) return [];
    if (this.begun) return [this.give(tag, timestampMs)];
    if (!this.joinsOn && (!isKeyFrame(tag) || timestampMs < this.earliestMs)) return [];
    this.begun = true;
    return [...[...this.headers.values()].map((header) => ({ ...header, timestampMs })), this.give(tag, timestampMs)];
  }

  private give(tag: FlvTag, timestampMs: number): FlvTag {
    this.sent[tag.kind as 'audio' | 'video'] = timestampMs;
    return { ...tag, timestampMs };
  }
}

/**
 * What of the card is shown within a hole: all, until something has come late; then again from the first key frame on that comes well
 * after that has ended.
 */
export class CardInHole {
  private readonly headers = new Map<FlvTag['kind'], FlvTag>();
  private shown = true;
  private reachedMs = 0;

  /** What came late has been put in up to here. */
  makeWay(reachedMs: number): void {
    this.shown = false;
    this.reachedMs = reachedMs;
  }

  /** One of the programme's own tags within the hole. */
  push(tag: FlvTag): FlvTag[] {
    if (isSequenceHeader(tag)) {
      this.headers.set(tag.kind, tag);
      return this.shown ? [tag] : [];
    }
    if (this.shown) return [tag];
    if (!isKeyFrame(tag) || tag.timestampMs < this.reachedMs + LEAST_OF_CARD_MS) return [];
    this.shown = true;
    return [...[...this.headers.values()].map((header) => ({ ...header, timestampMs: tag.timestampMs })), tag];
  }
}

// The break card as a source: a few seconds of a still, with silent sound or with music, encoded once and sent round and round. Nothing
// is encoded while it is on, and nothing runs while it is not.
import { FlvReader, isSequenceHeader, ProgrammeInput, type FlvTag } from '@lantern/core';
import { createReadStream } from 'node:fs';

const EVERY_MS = 50;
/** Larger than this is no card, and no music, of ours. */
const LARGEST_BYTES = 20_000_000;
/** Read in pieces of this size, with room for pictures between them. */
const PIECE_BYTES = 64_000;

/** Tags that go round: `at` counts those that were sent, over all rounds. */
class Round {
  private at = 0;

  private constructor(
    private readonly tags: readonly FlvTag[],
    readonly lengthMs: number,
  ) {}

  /** Goes round one tag of `kind` after the last of them. Null: they take no time. */
  static of(tags: readonly FlvTag[], kind: 'video' | 'audio'): Round | null {
    const sorted = [...tags].sort((a, b) => a.timestampMs - b.timestampMs);
    const counted = sorted.filter((tag) => tag.kind === kind);
    const last = counted.at(-1)?.timestampMs ?? 0;
    const lengthMs = last + Math.round(last / Math.max(1, counted.length - 1));
    const within = sorted.filter(({ timestampMs }) => timestampMs < lengthMs);
    return within.length ? new Round(within, lengthMs) : null;
  }

  begin(): void {
    this.at = 0;
  }

  /** What is to be sent up to `due`, in ms since the beginning. */
  *until(due: number): Iterable<FlvTag> {
    // After the machine has slept, what is long past is left out.
    const rounds = Math.floor(this.at / this.tags.length);
    if (due - rounds * this.lengthMs > 2 * this.lengthMs) this.at = Math.floor(due / this.lengthMs) * this.tags.length;
    for (;;) {
      const tag = this.tags[this.at % this.tags.length]!;
      const timestampMs = Math.floor(this.at / this.tags.length) * this.lengthMs + tag.timestampMs;
      if (timestampMs > due) return;
      this.at += 1;
      yield { ...tag, timestampMs };
    }
  }
}

/** A card that can be sent: its configuration, and what goes round. */
export class BreakCardLoop {
  readonly input = new ProgrammeInput('break card');
  private readonly heads: FlvTag[];
  private readonly rounds: Round[];
  private timer: NodeJS.Timeout | null = null;

  /**
   * `card`: tags of a whole FLV that begins with a key frame; `music`: of one with sound alone, which takes the place of the card’s own and
   * goes round by itself. Throws where there is no picture in the card.
   */
  constructor(card: readonly FlvTag[], music: readonly FlvTag[] = []) {
    const isSound = ({ kind }: FlvTag) => kind === 'audio';
    const going = (tags: readonly FlvTag[]) => tags.filter((tag) => !isSequenceHeader(tag));
    const sound = Round.of(going(music.filter(isSound)), 'audio');
    const own = card.filter((tag) => tag.kind === 'video' || (isSound(tag) && !sound));
    this.heads = [...own, ...(sound ? music.filter(isSound) : [])].filter((tag) => isSequenceHeader(tag));
    const picture = Round.of(going(own), 'video');
    if (!picture || !this.heads.some(({ kind }) => kind === 'video')) throw new Error('There is no picture in the break card.');
    this.rounds = sound ? [picture, sound] : [picture];
  }

  /** Reads a card and its music from where they lie. Music that cannot be read is no reason to have no card. */
  static async read(cardPath: string, musicPath: string | null): Promise<BreakCardLoop> {
    const card = await readTags(cardPath);
    return new BreakCardLoop(card, musicPath === null ? [] : await readTags(musicPath).catch(() => []));
  }

  get running(): boolean {
    return this.timer !== null;
  }

  /** Begins a round, with a key frame at once. `now` only goes forward, in ms. */
  start(feed: (tag: FlvTag) => void, now: () => number): void {
    if (this.timer) return;
    const startedAt = now();
    for (const round of this.rounds) round.begin();
    for (const head of this.heads) feed(head);
    const send = () => {
      const due = now() - startedAt;
      const tags = this.rounds.flatMap((round) => [...round.until(due)]);
      for (const tag of tags.sort((a, b) => a.timestampMs - b.timestampMs)) feed(tag);
    };
    this.timer = setInterval(send, EVERY_MS);
    send();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
  }
}

async function readTags(path: string): Promise<FlvTag[]> {
  const reader = new FlvReader();
  const tags: FlvTag[] = [];
  let bytes = 0;
  for await (const piece of createReadStream(path, { highWaterMark: PIECE_BYTES })) {
    bytes += (piece as Buffer).length;
    if (bytes > LARGEST_BYTES) throw new Error('This is larger than any break card.');
    tags.push(...reader.push(piece as Buffer));
  }
  return tags;
}

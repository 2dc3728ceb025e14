// The break card as a source: a few seconds of a still with silent sound, encoded once and sent round and round. Nothing is
// encoded while it is on, and nothing runs while it is not.
import { FlvReader, isSequenceHeader, ProgrammeInput, type FlvTag } from '@lantern/core';
import { readFile } from 'node:fs/promises';

const EVERY_MS = 50;
/** Larger than this is no card of ours. */
const LARGEST_BYTES = 20_000_000;

/** A card that can be sent: its configuration, and the tags of one round. */
export class BreakCardLoop {
  readonly input = new ProgrammeInput('break card');
  private readonly heads: FlvTag[];
  private readonly round: FlvTag[];
  private readonly roundMs: number;
  private timer: NodeJS.Timeout | null = null;
  private startedAt = 0;
  private at = 0;

  /** `tags`: of a whole FLV that begins with a key frame. Throws where there is no picture in it. */
  constructor(tags: readonly FlvTag[]) {
    this.heads = tags.filter((tag) => tag.kind !== 'script' && isSequenceHeader(tag));
    this.round = tags.filter((tag) => tag.kind !== 'script' && !isSequenceHeader(tag)).sort((a, b) => a.timestampMs - b.timestampMs);
    const last = (kind: FlvTag['kind']) => this.round.findLast((tag) => tag.kind === kind)?.timestampMs ?? 0;
    const pictures = this.round.filter(({ kind }) => kind === 'video').length;
    if (pictures < 2 || !this.heads.some(({ kind }) => kind === 'video')) throw new Error('There is no picture in the break card.');
    // The next round begins one picture after the last of this one.
    this.roundMs = last('video') + Math.round(last('video') / (pictures - 1));
    this.round = this.round.filter(({ timestampMs }) => timestampMs < this.roundMs);
  }

  static async read(path: string): Promise<BreakCardLoop> {
    const bytes = await readFile(path);
    if (bytes.length > LARGEST_BYTES) throw new Error('The break card is too large.');
    return new BreakCardLoop(new FlvReader().push(bytes));
  }

  get running(): boolean {
    return this.timer !== null;
  }

  /** Begins a round, with a key frame at once. `now` only goes forward, in ms. */
  start(feed: (tag: FlvTag) => void, now: () => number): void {
    if (this.timer) return;
    this.startedAt = now();
    this.at = 0;
    for (const head of this.heads) feed(head);
    const send = () => {
      const due = now() - this.startedAt;
      // After the machine has slept, what is long past is left out.
      const rounds = Math.floor(this.at / this.round.length);
      if (due - rounds * this.roundMs > 2 * this.roundMs) this.at = Math.floor(due / this.roundMs) * this.round.length;
      for (;;) {
        const round = Math.floor(this.at / this.round.length);
        const tag = this.round[this.at % this.round.length]!;
        const timestampMs = round * this.roundMs + tag.timestampMs;
        if (timestampMs > due) return;
        this.at += 1;
        feed({ ...tag, timestampMs });
      }
    };
    this.timer = setInterval(send, EVERY_MS);
    send();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
  }
}

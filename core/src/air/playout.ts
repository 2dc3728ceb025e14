// When what comes over a network is to be seen and heard here: evenly, although it arrives unevenly, and as soon as that allows.

/** The quickest of the last so long, in slices, stands for how a source's clock and this one lie to each other. */
const SLICES = 10;
const SLICE_MS = 1_000;
/** A source whose times jump ahead by more has begun anew. */
const JUMP_MS = 1_500;

/** Sets times of one source in order. All in ms; `now` only goes forward. */
export class Playout {
  /** By slice of a second, the least of (arrival − its own time). */
  private slices: { slice: number; least: number }[] = [];

  /** `delayMs`: for so long what arrives quickly waits for what arrives slowly. */
  constructor(private readonly delayMs: number) {}

  /**
   * Notes that what is of `mediaMs` has arrived. What arrives is never due already: where it would be, as from an encoder that does not keep
   * up, all that follows waits with it. True: what was due before is due no more.
   */
  note(mediaMs: number, now: number): boolean {
    const offset = now - mediaMs;
    const late = this.slices.length > 0 ? offset - this.least : 0;
    const anew = late > this.delayMs || late < -JUMP_MS;
    if (anew) this.slices = [];
    const slice = Math.floor(now / SLICE_MS);
    const last = this.slices.at(-1);
    if (last?.slice === slice) last.least = Math.min(last.least, offset);
    else this.slices.push({ slice, least: offset });
    this.slices = this.slices.filter((each) => each.slice > slice - SLICES);
    return anew;
  }

  /** When what is of `mediaMs` is due here; null: nothing has arrived yet. */
  due(mediaMs: number): number | null {
    return this.slices.length ? mediaMs + this.least + this.delayMs : null;
  }

  private get least(): number {
    return Math.min(...this.slices.map(({ least }) => least));
  }
}

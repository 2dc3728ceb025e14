// The product's compositor, watched: it tells once a second what the last second was like and, where it is told to, writes the moment of
// its drawing on each picture. Takes the place of the product's own worker in a bench, and is part of nothing that is shipped.
import { PROGRAMME } from '@lantern/core';
import { runCompositor, type CompositorWatch } from '../../web/src/programme/compositor';
import { STAMP, type Pulse } from './stamp';

declare const STAMPED: boolean;

/** Writes a time as black and white squares that survive encoding. */
function stamp(context: OffscreenCanvasRenderingContext2D): void {
  const now = Date.now();
  for (let bit = 0; bit < STAMP.bits; bit++) {
    context.fillStyle = Math.floor(now / 2 ** bit) % 2 ? '#fff' : '#000';
    context.fillRect(bit * STAMP.px, PROGRAMME.height - STAMP.px, STAMP.px, STAMP.px);
  }
}

class Watch implements CompositorWatch {
  private took: number[] = [];
  private drawn = 0;
  private lost = 0;
  private since = performance.now();
  private before = 0;

  painted(context: OffscreenCanvasRenderingContext2D): void {
    if (STAMPED) stamp(context);
  }

  dropped(count: number): void {
    this.lost += count;
  }

  drew(tookMs: number): void {
    this.drawn += 1;
    this.took.push(tookMs);
    const now = performance.now();
    if (now - this.since < 1_000) return;
    const sorted = this.took.sort((a, b) => a - b);
    const share = (part: number) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))] ?? 0;
    self.postMessage({
      type: 'pulse',
      framesPerSecond: ((this.drawn - this.before) * 1_000) / (now - this.since),
      drawMedianMs: share(0.5),
      draw95thMs: share(0.95),
      dropped: this.lost,
      drawn: this.drawn,
    } satisfies Pulse & { type: 'pulse' });
    this.took = [];
    this.since = now;
    this.before = this.drawn;
  }
}

runCompositor(() => new Watch());

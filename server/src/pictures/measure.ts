// What is measured of a picture's pixels, as questions and answers that can go to another thread and back.
import { attentionIn, attentionOf, attentiveTo, cropFor, lettersIn, ssim, type Crop, type Lettering, type Pixels } from '@lantern/core';

export type Measuring =
  /** The part that each shape should take. `glance` is the picture at a glance, `detailed` larger, for its letters. */
  | { kind: 'crops'; glance: Pixels; detailed: Pixels; shapes: readonly number[] }
  /** How much of what is looked at lies within an area. */
  | { kind: 'within'; glance: Pixels; area: Crop }
  /** How much of a picture another keeps; one byte a pixel. */
  | { kind: 'likeness'; a: Uint8Array; b: Uint8Array; width: number; height: number }
  | { kind: 'letters'; detailed: Pixels };

export interface Measured {
  crops: Crop[];
  within: number;
  likeness: number;
  letters: Lettering[];
}

export function measure<Kind extends Measuring['kind']>(asked: Extract<Measuring, { kind: Kind }>): Measured[Kind] {
  return answer(asked) as Measured[Kind];
}

function answer(asked: Measuring): Measured[Measuring['kind']] {
  switch (asked.kind) {
    case 'crops': {
      const { width, height } = asked.glance;
      const boxes = lettersIn(asked.detailed).map(({ box }) => box);
      const attention = attentiveTo(attentionOf(asked.glance), width, height, boxes);
      return asked.shapes.map((shape) => cropFor(attention, width, height, shape));
    }
    case 'within':
      return attentionIn(attentionOf(asked.glance), asked.glance.width, asked.glance.height, asked.area);
    case 'likeness':
      return ssim(asked.a, asked.b, asked.width, asked.height);
    case 'letters':
      return lettersIn(asked.detailed);
  }
}

// One line of many sources: pictures of each are read with its own parameter sets (ITU-T H.264 7.3.2). Files have but one place for them, and
// whoever joins late has missed those that went before. So every key frame carries what it needs.
import { isEndOfSequence, isKeyFrame, isSequenceHeader, type FlvTag } from './tags';

interface Configuration {
  /** Bytes of the length before each NAL unit: 1, 2 or 4. */
  lengthSize: number;
  sets: Uint8Array[];
}

/** FLV's five bytes before the picture (annex E.4.3). */
const HEAD = 5;
/** The type of the NAL unit that is a sequence parameter set (H.264 table 7-1). */
const SPS = 7;

/** An AVCDecoderConfigurationRecord (ISO/IEC 14496-15 5.3.3.1) as FLV brings it; null: it cannot be read. */
function configurationOf({ data }: FlvTag): Configuration | null {
  const lengthSize = ((data[HEAD + 4] ?? 0) & 3) + 1;
  const sets: Uint8Array[] = [];
  let at = HEAD + 5;
  for (const mask of [0x1f, 0xff]) {
    const count = (data[at++] ?? 0) & mask;
    for (let each = 0; each < count; each++) {
      const length = ((data[at] ?? 0) << 8) | (data[at + 1] ?? 0);
      const set = data.subarray(at + 2, at + 2 + length);
      if (length === 0 || set.length < length) return null;
      sets.push(set);
      at += 2 + length;
    }
  }
  return sets.length ? { lengthSize, sets } : null;
}

/** NAL units with lengths of one size, as those of another have it. */
function relengthed(units: Uint8Array, from: number, to: number): Uint8Array[] {
  const out: Uint8Array[] = [];
  for (let at = 0; at + from <= units.length;) {
    let length = 0;
    for (let byte = 0; byte < from; byte++) length = length * 256 + units[at + byte]!;
    out.push(...lengthed(units.subarray(at + from, at + from + length), to));
    at += from + length;
  }
  return out;
}

function lengthed(unit: Uint8Array, size: number): [Uint8Array, Uint8Array] {
  return [Uint8Array.from({ length: size }, (_, at) => (unit.length / 256 ** (size - 1 - at)) & 0xff), unit];
}

export class PicturesWithTheirSets {
  private first: Configuration | null = null;
  private now: Configuration | null = null;

  /** `whole`: it becomes a file with one configuration, that of its first source. `line`: each source's own goes out before its pictures, as RTMP has it. */
  constructor(private readonly becomes: 'whole' | 'line') {}

  /** The tag as it goes on; null: it does not. */
  push(tag: FlvTag): FlvTag | null {
    if (tag.kind !== 'video') return tag;
    const isWhole = this.becomes === 'whole';
    if (isSequenceHeader(tag)) {
      this.now = configurationOf(tag);
      const isFirst = this.first === null;
      this.first ??= this.now;
      return isFirst || !isWhole ? tag : null;
    }
    if (isEndOfSequence(tag)) return isWhole ? null : tag;
    if (!this.first || !this.now) return tag;
    const from = this.now.lengthSize;
    const to = isWhole ? this.first.lengthSize : from;
    const units = tag.data.subarray(HEAD);
    // Encoders may write them there themselves.
    const needsSets = isKeyFrame(tag) && ((units[from] ?? 0) & 0x1f) !== SPS;
    if (from === to && !needsSets) return tag;
    const sets = needsSets ? this.now.sets.flatMap((set) => lengthed(set, to)) : [];
    return { ...tag, data: joined([tag.data.subarray(0, HEAD), ...sets, ...(from === to ? [units] : relengthed(units, from, to))]) };
  }
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

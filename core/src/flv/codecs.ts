// What the configuration of a stream says of its picture and sound: the size of H.264 pictures, the rate of AAC sound.
import type { FlvTag } from './tags';

/** FLV's numbers for what is inside (annex E.4.2.1 and E.4.3.1); the others are older than what networks take. */
const VIDEO_CODECS: Record<number, string> = { 2: 'H.263', 3: 'Screen', 4: 'VP6', 5: 'VP6', 7: 'H.264', 12: 'H.265' };
const SOUND_CODECS: Record<number, string> = { 0: 'PCM', 1: 'ADPCM', 2: 'MP3', 3: 'PCM', 10: 'AAC', 11: 'Speex' };
const AAC_RATES = [96_000, 88_200, 64_000, 48_000, 44_100, 32_000, 24_000, 22_050, 16_000, 12_000, 11_025, 8_000, 7_350];

/** The codec of a tag, by name; null: nobody knows. */
export function codecOf({ kind, data }: FlvTag): string | null {
  if (data.length === 0 || kind === 'script') return null;
  return (kind === 'video' ? VIDEO_CODECS[data[0]! & 0x0f] : SOUND_CODECS[data[0]! >> 4]) ?? null;
}

/** Reads bits, first the highest of each byte. Beyond the end there are zeros. */
class Bits {
  private at = 0;
  constructor(private readonly bytes: Uint8Array) {}

  bit(): number {
    const byte = this.bytes[this.at >> 3] ?? 0;
    return (byte >> (7 - (this.at++ & 7))) & 1;
  }

  bits(count: number): number {
    let value = 0;
    for (let at = 0; at < count; at++) value = value * 2 + this.bit();
    return value;
  }

  /** Exp-Golomb, unsigned (ITU-T H.264, 9.1). */
  ue(): number {
    let zeros = 0;
    while (zeros < 32 && this.bit() === 0) zeros += 1;
    return 2 ** zeros - 1 + this.bits(zeros);
  }

  se(): number {
    const value = this.ue();
    return value % 2 ? (value + 1) / 2 : -value / 2;
  }

  get over(): boolean {
    return this.at > this.bytes.length * 8;
  }
}

/** Profiles whose parameter sets say how colours are kept (7.3.2.1.1). */
const WITH_CHROMA = new Set([100, 110, 122, 244, 44, 83, 86, 118, 128, 138, 139, 134, 135]);
const LARGEST_SIDE = 16_384;

/**
 * Width and height in pixels, from the tag with the decoder's configuration (AVCDecoderConfigurationRecord, ISO/IEC 14496-15 5.3.3.1, with a
 * sequence parameter set, ITU-T H.264 7.3.2.1). Null: it cannot be read.
 */
export function pictureSizeOf({ data }: FlvTag): { width: number; height: number } | null {
  // Five bytes of FLV, then five of the record, the number of sets, and the first one's length.
  const length = ((data[11] ?? 0) << 8) | (data[12] ?? 0);
  const set = data.subarray(13, 13 + length);
  if (((data[10] ?? 0) & 0x1f) < 1 || set.length < 4 || (set[0]! & 0x1f) !== 7) return null;
  const bits = new Bits(withoutEmulation(set.subarray(1)));
  const profile = bits.bits(8);
  bits.bits(16);
  bits.ue();
  let chroma = 1;
  if (WITH_CHROMA.has(profile)) {
    chroma = bits.ue();
    if (chroma === 3) bits.bit();
    bits.ue();
    bits.ue();
    bits.bit();
    if (bits.bit()) for (let list = 0; list < (chroma === 3 ? 12 : 8); list++) if (bits.bit()) skipScaling(bits, list < 6 ? 16 : 64);
  }
  bits.ue();
  const order = bits.ue();
  if (order === 0) bits.ue();
  else if (order === 1) {
    bits.bit();
    bits.se();
    bits.se();
    const cycle = Math.min(255, bits.ue());
    for (let at = 0; at < cycle; at++) bits.se();
  }
  bits.ue();
  bits.bit();
  const [across, down] = [bits.ue() + 1, bits.ue() + 1];
  const fields = 2 - bits.bit();
  if (fields === 2) bits.bit();
  bits.bit();
  const crop = bits.bit() ? [bits.ue(), bits.ue(), bits.ue(), bits.ue()] : [0, 0, 0, 0];
  const unit = { x: chroma === 1 || chroma === 2 ? 2 : 1, y: (chroma === 1 ? 2 : 1) * fields };
  const width = across * 16 - (crop[0]! + crop[1]!) * unit.x;
  const height = down * 16 * fields - (crop[2]! + crop[3]!) * unit.y;
  const readable = !bits.over && width > 0 && height > 0 && width <= LARGEST_SIDE && height <= LARGEST_SIDE;
  return readable ? { width, height } : null;
}

/** Rate in Hz and channels, from the tag with the decoder's configuration (AudioSpecificConfig, ISO/IEC 14496-3 1.6.2.1). Null: it cannot be read. */
export function soundOf({ data }: FlvTag): { rate: number; channels: number } | null {
  const bits = new Bits(data.subarray(2));
  if (bits.bits(5) === 31) bits.bits(6);
  const index = bits.bits(4);
  const rate = index === 15 ? bits.bits(24) : AAC_RATES[index];
  const channels = bits.bits(4);
  return rate === undefined || bits.over ? null : { rate, channels };
}

/** Takes out the bytes that keep a start code from appearing in the middle (7.4.1). */
function withoutEmulation(bytes: Uint8Array): Uint8Array {
  return bytes.filter((byte, at) => !(byte === 3 && at >= 2 && bytes[at - 1] === 0 && bytes[at - 2] === 0));
}

function skipScaling(bits: Bits, size: number): void {
  let last = 8;
  let next = 8;
  for (let at = 0; at < size; at++) {
    if (next !== 0) next = (last + bits.se() + 256) % 256;
    if (next !== 0) last = next;
  }
}

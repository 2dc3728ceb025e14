// How well a guest comes in, in words: from what their browser and the stage measure, once a second, and only once it has lasted.

/** What was measured over the last second. Rates in kbit/s. */
export interface GuestLineFacts {
  /** What arrives of their picture, and how many pictures a second; null: no picture is sent. */
  picture: { kbps: number; fps: number; height: number } | null;
  /** How much of their sound did not arrive in time, 0 to 1; null: none is sent. */
  soundLost: number | null;
  /** What their uplink gives, as their browser estimates it; null: not known. */
  uplinkKbps: number | null;
  /** There and back; null: not known. */
  roundTripMs: number | null;
  connected: boolean;
}

export type GuestLineVerdict = 'good' | 'thin picture' | 'no picture' | 'broken sound' | 'slow' | 'gone';

const FEW_FPS = 10;
const LITTLE_KBPS = 150;
/** More than any picture of a guest is sent with. */
const ENOUGH_KBPS = 1_500;
const MUCH_LOST = 0.08;
const LATE_MS = 600;
/** A verdict is said once it has held for so many seconds, and taken back as slowly. */
const LASTS_S = 3;

export function judgedLine({ picture, soundLost, roundTripMs, connected }: GuestLineFacts): GuestLineVerdict {
  if (!connected) return 'gone';
  if (soundLost !== null && soundLost > MUCH_LOST) return 'broken sound';
  if (picture && picture.fps === 0) return 'no picture';
  if (picture && (picture.fps < FEW_FPS || picture.kbps < LITTLE_KBPS) && picture.height > 0) return 'thin picture';
  if (roundTripMs !== null && roundTripMs > LATE_MS) return 'slow';
  return 'good';
}

/** Judges once a second. That somebody is gone, and back, is said at once. */
export class GuestLineWatch {
  private said: GuestLineVerdict = 'good';
  private coming: GuestLineVerdict = 'good';
  private forS = 0;

  hear(facts: GuestLineFacts): GuestLineVerdict {
    const now = judgedLine(facts);
    this.forS = now === this.coming ? this.forS + 1 : 1;
    this.coming = now;
    if (now === 'gone' || this.said === 'gone' || this.forS >= LASTS_S) this.said = now;
    return this.said;
  }
}

/** What is said of it to the team, by name. Empty: nothing is wrong. */
export function sayGuestLine(verdict: GuestLineVerdict, name: string, { uplinkKbps }: Pick<GuestLineFacts, 'uplinkKbps'>): string {
  const gives = uplinkKbps === null ? '' : `: the uplink there gives ${(uplinkKbps / 1_000).toFixed(1)} Mbit/s`;
  switch (verdict) {
    case 'good':
      return '';
    case 'thin picture':
      // A line that gives plenty is not what it is.
      if (uplinkKbps !== null && uplinkKbps >= ENOUGH_KBPS)
        return `${name}’s picture comes in jerks, and their line would give more: their browser is short of time. Have them close other programs, or go on by sound only.`;
      return `${name}’s picture is thin${gives}. Have them sit nearer to their router, or go on by sound only.`;
    case 'no picture':
      return `No picture comes from ${name}. Their camera may be held by another program.`;
    case 'broken sound':
      return `${name}’s sound breaks up${gives}. Have them switch their camera off.`;
    case 'slow':
      return `${name} hears you late: leave pauses, and say names.`;
    case 'gone':
      return `${name}’s line is broken. Their place is kept; they come back by themselves.`;
  }
}

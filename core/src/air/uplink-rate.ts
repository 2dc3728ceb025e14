// How much picture a stage sends: as much as its line takes. It goes down before anything stalls, as far as the line makes necessary, and up again by
// steps once the line has been good for long enough; sound is never given up. Asked once a second, by what the server has confirmed.

/** Rates of the picture, in kbit/s. */
export const PICTURE_KBPS = [2_500, 1_800, 1_200, 900, 600] as const;
/** Of the sound, which goes with each of them. */
const SOUND_KBPS = 128;
/** A piece that waits for so long to be confirmed is behind, in ms: with every round trip that a show can be made over, and the pieces' own length. */
const BEHIND_MS = 1_500;
const WELL_MS = 600;
/** It has to be behind for so many seconds: a hiccup changes nothing. */
const BEHIND_FOR_S = 2;
/** What was sent before a change takes so long to be gone, in s, before the change itself can be judged. */
const SETTLES_S = 5;
/** Of what the line gives, so much is planned for. */
const PLANNED = 0.85;
/** It goes up to a rate after so many good seconds; twice as many after each time that this rate was too much. */
const UP_AFTER_S = 20;
const UP_AFTER_MOST_S = 160;
/** A rate that has held for so long is none that is too much. */
const HOLDS_AFTER_S = 60;
/** What the line gives is what it took while something waited. */
const MEASURED_OVER_S = 2;
/** A queue that is shorter than it was so many seconds ago drains: then enough has been done. */
const DRAINS_OVER_S = 3;

/** Of the last second. */
export interface UplinkFacts {
  connected: boolean;
  /** What the server has confirmed, in kbit/s. */
  confirmedKbps: number;
  /** How long the oldest piece that it has not confirmed has waited, in ms; 0: none. */
  waitsMs: number;
}

export interface UplinkVerdict {
  /** What the picture is sent with. */
  pictureKbps: number;
  /** What the line was last found to give; null: more than was ever needed. */
  givesKbps: number | null;
  /** Even the least is too much. */
  tooSlow: boolean;
}

export class UplinkRate {
  private step = 0;
  private confirmed: number[] = [];
  private waited: number[] = [];
  private gives: number | null = null;
  private behindS = 0;
  private goodS = 0;
  private sinceChangeS = SETTLES_S;
  /** By step, how many good seconds it takes to get there. */
  private readonly upAfterS: number[] = PICTURE_KBPS.map(() => UP_AFTER_S);
  private tooSlow = false;

  /** To be called once a second. */
  hear({ connected, confirmedKbps, waitsMs }: UplinkFacts): UplinkVerdict {
    this.confirmed = [...this.confirmed, confirmedKbps].slice(-MEASURED_OVER_S);
    // Of a line that is broken, or on which nothing at all comes through, nothing is known: less of the picture would not come through either.
    if (!connected || !this.confirmed.some((each) => each > 0)) {
      this.behindS = this.goodS = 0;
      this.waited = [];
      if (!connected) this.confirmed = [];
      return this.verdict;
    }
    this.sinceChangeS++;
    const drains = waitsMs < (this.waited[0] ?? 0);
    this.waited = [...this.waited, waitsMs].slice(-DRAINS_OVER_S);
    const behind = waitsMs > BEHIND_MS && !(drains && this.sinceChangeS > SETTLES_S / 2);
    this.behindS = behind ? this.behindS + 1 : 0;
    this.goodS = waitsMs < WELL_MS ? this.goodS + 1 : 0;
    if (this.sinceChangeS > HOLDS_AFTER_S) this.upAfterS[this.step] = UP_AFTER_S;
    if (this.behindS >= BEHIND_FOR_S && this.sinceChangeS >= SETTLES_S) this.down();
    else if (this.step > 0 && this.goodS >= this.upAfterS[this.step - 1]!) this.up();
    if (this.goodS > 0) this.tooSlow = false;
    return this.verdict;
  }

  get verdict(): UplinkVerdict {
    return { pictureKbps: PICTURE_KBPS[this.step]!, givesKbps: this.gives, tooSlow: this.tooSlow };
  }

  private down(): void {
    this.gives = Math.round(this.confirmed.reduce((sum, each) => sum + each, 0) / this.confirmed.length);
    this.upAfterS[this.step] = Math.min(UP_AFTER_MOST_S, this.upAfterS[this.step]! * 2);
    if (this.step === PICTURE_KBPS.length - 1) {
      this.tooSlow = true;
      return;
    }
    const fits = PICTURE_KBPS.findIndex((kbps, step) => step > this.step && kbps + SOUND_KBPS <= this.gives! * PLANNED);
    this.change(fits === -1 ? PICTURE_KBPS.length - 1 : fits);
  }

  private up(): void {
    this.change(this.step - 1);
    if (this.step === 0) this.gives = null;
  }

  private change(step: number): void {
    this.step = step;
    this.behindS = this.goodS = this.sinceChangeS = 0;
  }
}

/** To whoever has the stage. Empty: all goes out as it should. */
export function sayUplink({ pictureKbps, givesKbps, tooSlow }: UplinkVerdict): string {
  if (pictureKbps === PICTURE_KBPS[0] || givesKbps === null) return '';
  const gives = `Your line gives about ${sayMbps(givesKbps)}`;
  if (tooSlow) return `${gives}: too little even for the thinnest picture, so viewers may see the break card now and then. A cable, or another network, helps.`;
  return `${gives}, so the picture goes out with less than it could, and with more again once the line takes it. Sound is as good as before.`;
}

const sayMbps = (kbps: number): string => `${(kbps / 1_000).toFixed(1)} Mbit/s`;

// What of a stage's sounds goes out: as the scene says, unless somebody holds it open or shut by hand.
import { GUEST_SEATS, isGuestSeat, microphoneGoesOut, shows, type GuestSeat, type Scene } from '../scenes/scene';
import { SILENCE_LUFS, USUAL_TARGET_LUFS, type Loudness } from './loudness';

/** A strip for each guest's seat: their voices. */
export const STRIPS = ['microphone', 'share', 'clip', 'line', ...GUEST_SEATS] as const;
export type StripName = (typeof STRIPS)[number];

export interface StripSetting {
  /** Not shut by hand. */
  on: boolean;
  /** Held open by hand, whatever the scene. */
  held: boolean;
  gainDb: number;
  /** Heard by whoever runs the stage. */
  here: boolean;
}

export const LEAST_GAIN_DB = -30;
export const MOST_GAIN_DB = 12;
const AS_IT_COMES: StripSetting = { on: true, held: false, gainDb: 0, here: false };
export const FIRST_STRIPS: Readonly<Record<StripName, StripSetting>> = {
  microphone: AS_IT_COMES,
  share: AS_IT_COMES,
  // Whoever plays something wants to know what is heard.
  clip: { on: true, held: false, gainDb: 0, here: true },
  line: AS_IT_COMES,
  // Whoever is in the show is heard by whoever runs it, brought in or not.
  ...(Object.fromEntries(GUEST_SEATS.map((seat) => [seat, { ...AS_IT_COMES, here: true }])) as Record<GuestSeat, StripSetting>),
};

/** As a factor; at its least a strip is silent. */
export const gainOf = ({ gainDb }: Pick<StripSetting, 'gainDb'>): number => (gainDb <= LEAST_GAIN_DB ? 0 : 10 ** (gainDb / 20));

/** What of the show decides besides. `soundAlone`: what is played is nothing to be seen, and sounds on every scene; `broughtIn`: the guests who are in. */
export interface HeardBesides {
  soundAlone?: boolean;
  broughtIn?: readonly GuestSeat[];
}

/** Whether a strip goes out on a scene. A guest is never heard before they are brought in, whatever is held open. */
export function goesOut(
  strip: StripName,
  { on, held }: Pick<StripSetting, 'on' | 'held'>,
  scene: Scene,
  { soundAlone = false, broughtIn = [] }: HeardBesides = {},
): boolean {
  if (isGuestSeat(strip)) return broughtIn.includes(strip) && (microphoneGoesOut(scene, on) || (on && held));
  if (strip === 'microphone') return microphoneGoesOut(scene, on) || (on && held);
  return on && (held || shows(scene, strip) || (strip === 'clip' && soundAlone));
}

/** Slower than this a change is not heard as one, in dB a second. */
const PACE_DB_S = 0.7;
const MOST_UP_DB = 9;
const MOST_DOWN_DB = -12;
/** So near is near enough, in LU. */
const NEAR_LU = 1;
/** What is quieter is a pause, and no quiet speech, in LUFS. */
const PAUSE_LUFS = -42;

/** Brings a programme slowly to its target loudness, as a hand at the fader would: by what it has become, so that nothing is heard of it. */
export class Leveller {
  private gain = 0;

  /** `targetLufs`: of EBU R 128's programme loudness. */
  constructor(public targetLufs: number = USUAL_TARGET_LUFS) {}

  get gainDb(): number {
    return this.gain;
  }

  /** Hears how loud the programme is with what it did so far, `seconds` after it heard last; says by how many dB to change it from now on. */
  hear({ shortTerm, momentary }: Pick<Loudness, 'shortTerm' | 'momentary'>, seconds: number): number {
    // While nobody speaks the last three seconds still tell of the words before.
    const quiet = Math.min(shortTerm, momentary) < PAUSE_LUFS || shortTerm <= SILENCE_LUFS;
    const off = this.targetLufs - shortTerm;
    if (!quiet && Math.abs(off) > NEAR_LU) {
      const step = Math.min(Math.abs(off) - NEAR_LU, PACE_DB_S * seconds) * Math.sign(off);
      this.gain = Math.max(MOST_DOWN_DB, Math.min(MOST_UP_DB, this.gain + step));
    }
    return this.gain;
  }
}

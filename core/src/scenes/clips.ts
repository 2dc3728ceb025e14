// What is prepared to be played into a show: films, sounds and stills of the library, in the order of use.

/** A clip of the library, which is a film or a sound, or a picture of it. */
export const CLIP_SOURCES = ['clip', 'still'] as const;
export type ClipSource = (typeof CLIP_SOURCES)[number];

export const CLIP_ENDS = ['back', 'next'] as const;
/** What comes after it: the scene before it, or what stands next. */
export type ClipEnd = (typeof CLIP_ENDS)[number];

export interface ClipInShow {
  id: string;
  from: ClipSource;
  /** By its identifier in the library. */
  item: string;
  /** The cue that begins with it; null: it is played when somebody says so. */
  cue: string | null;
  then: ClipEnd;
}

/** What is needed to be cleared: a work that a show uses, and what is known of whose it is. */
export interface Work {
  name: string;
  /** Whose it is, and by what right it is used; empty: nobody has said. */
  rights: string;
}

/** Works of which nobody has said whose they are. */
export const notCleared = <Each extends Work>(works: readonly Each[]): Each[] => works.filter(({ rights }) => !rights.trim());

/** A clip makes way for speech by so many dB. */
export const DUCKED_DB = -14;
/** From here on a microphone brings speech, in dB of full scale; a little below it goes on. */
const SPEECH_DB = -38;
const SPEECH_GOES_ON_DB = -46;
/** Pauses between words are shorter. */
const PAUSE_MS = 900;

/** Says whether what is played is to make way for somebody who speaks. Times in ms, going forward. */
export class Ducking {
  private spokeAt = -Infinity;
  private speaks = false;

  /** `rmsDb`: of all that goes out of microphones, in dB of full scale. */
  hear(rmsDb: number, now: number): boolean {
    if (rmsDb > (this.speaks ? SPEECH_GOES_ON_DB : SPEECH_DB)) this.spokeAt = now;
    this.speaks = now - this.spokeAt < PAUSE_MS;
    return this.speaks;
  }
}

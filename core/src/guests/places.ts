// Where a guest of a show is: what the team sees of it, and what the guest is told, always plainly.
import { MINUTE_MS } from '../time/instant';

/** So long before the start a guest is asked to come, in ms. */
export const COME_EARLY_MS = 30 * MINUTE_MS;

/** What a guest is told of themselves. */
export type GuestPlace = 'unheard' | 'next' | 'on air' | 'recorded';

export const PLACE_WORDS: Record<GuestPlace, string> = {
  unheard: 'Not seen or heard',
  next: 'You are next',
  'on air': 'You are on air now',
  recorded: 'Recorded only',
};

/** What of a guest goes into the programme at this moment, as the stage makes it. */
export interface InProgramme {
  broughtIn: boolean;
  /** Whether they are on the scene, or would be heard on it. */
  onScene: boolean;
  /** Whether the next take brings them on. */
  onNext: boolean;
}

/** `out`: what becomes of the programme that the stage makes: viewers see it, it is recorded alone (a rehearsal), or neither. */
export function guestPlace({ broughtIn, onScene, onNext }: InProgramme, out: 'public' | 'recorded' | 'nowhere'): GuestPlace {
  if (out !== 'nowhere' && broughtIn && onScene) return out === 'public' ? 'on air' : 'recorded';
  return broughtIn && (onNext || onScene) ? 'next' : 'unheard';
}

/** How the team sees somebody who was asked. */
export type GuestStanding = 'asked' | 'accepted' | 'declined' | 'tried out' | 'green room' | 'on air' | 'gone';

export const STANDING_WORDS: Record<GuestStanding, string> = {
  asked: 'asked, no answer yet',
  accepted: 'comes',
  declined: 'does not come',
  'tried out': 'comes, has tried it out',
  'green room': 'in the green room',
  'on air': 'on air',
  gone: 'has left',
};

/** `there`: what is known of them at this moment; `came`: whether they were in the green room and are no more. */
export function standingOf(answer: 'asked' | 'accepted' | 'declined', tried: boolean, there: 'green room' | 'on air' | 'gone' | null): GuestStanding {
  if (there === 'green room' || there === 'on air') return there;
  if (answer === 'declined') return 'declined';
  if (there === 'gone') return 'gone';
  return tried ? 'tried out' : answer;
}

/** What somebody who is to be named on the page of a network has said there. */
export type SpeakerAnswer = 'invited' | 'accepted' | 'declined';

/** To the team. `network`: by name. */
export function sayOnPage(answer: SpeakerAnswer, network: string): string {
  if (answer === 'accepted') return `Named on the page at ${network}.`;
  return answer === 'declined' ? `Has said no to being named at ${network}.` : `Invited at ${network}, and named there once they have said yes there too.`;
}

/** Ready-made words to a guest's eyes, one touch each. */
export const GUEST_CUES = [
  'You are on in a moment',
  'Two minutes left',
  'Please wrap up',
  'Closer to the microphone, please',
  'Headphones, please: we hear ourselves',
  'Look into the camera',
  'Thank you, that was it',
] as const;

/** Of a note to or from a guest, in characters. */
export const LONGEST_NOTE = 300;

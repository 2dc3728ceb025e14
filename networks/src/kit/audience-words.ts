// What a made-up audience writes: the same for the same event, at the same moments after it became public.
import type { Standing } from './entities';
import { noise } from './audience';

/** Between two messages of a hundred followers, about. */
const USUAL_GAP_MS = 9_000;

const WRITERS = [
  'Fern',
  'Old Tam',
  'K. Larkin',
  'Wilf & Ada',
  'moth_at_dusk',
  'Signe',
  'Paulo',
  'Three Pines',
  'Niamh',
  'quietcellar',
  'Uncle Bram',
  'Hedda',
] as const;

const WORDS = [
  'Good evening from the lower valley!',
  'Is the fog still lying over the fell?',
  'Which way should I look for the first one?',
  'Sound is lovely tonight.',
  'How many nights until the new moon?',
  'hello hello hello',
  'Do I need a filter for that, or will plain binoculars do?',
  'Guten Abend zusammen, wie kalt ist es bei euch?',
  'first time here, what is the little orange light on the left?',
  'My daughter asks whether stars make a noise.',
  'Buenas noches desde muy lejos.',
  'zzzzbrrp',
  'Could you say again where the talk is next month?',
  'you lot are a bunch of grumbling snarkwits',
  'Look at this https://win-a-dome.example/free and tell everybody',
  'We can see it from the bridge!',
  'Oíche mhaith, go raibh maith agaibh.',
  'Why does it look green on one side?',
  'The picture stands still here. Only me?',
  'Came for the moon, stayed for the tea.',
  'go home you blatherskite',
  'What eyepiece is that?',
  'Thank you for doing this.',
  'asdfghjkl',
] as const;

/** When the message of that number is written, in ms after the event became public. */
export function whenWritten(seed: string, followers: number, index: number): number {
  const gap = (USUAL_GAP_MS * 100) / Math.max(10, followers);
  return Math.round((index + 0.5 + 0.8 * (noise(seed, 7_000 + index) - 0.5)) * gap);
}

/** The message of that number. */
export function made(seed: string, index: number): { writerId: string; writer: string; standing: Standing; text: string } {
  const pick = <T>(all: readonly T[], step: number): T => all[Math.floor(noise(seed, step + index) * all.length)]!;
  const writer = pick(WRITERS, 1_000);
  return {
    writerId: `by-${WRITERS.indexOf(writer)}`,
    writer,
    standing: noise(writer, 3) < 0.7 ? 'follower' : 'newcomer',
    text: pick(WORDS, 2_000_000),
  };
}

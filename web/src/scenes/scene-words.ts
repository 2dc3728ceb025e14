// What layouts and seats are called.
import type { SceneLayout, Seat } from '@lantern/core';

export const LAYOUT_WORDS: Record<SceneLayout, string> = {
  card: 'A card, nobody seen',
  one: 'One, as large as can be',
  row: 'In one row',
  grid: 'As large as each other',
  lead: 'The first large, others beside',
  inset: 'The first whole, others inset',
};

export const SEAT_WORDS: Record<Seat, string> = {
  host: 'Host',
  'second host': 'Second host',
  'guest 1': 'Guest 1',
  'guest 2': 'Guest 2',
  'guest 3': 'Guest 3',
  'guest 4': 'Guest 4',
  'guest 5': 'Guest 5',
  'guest 6': 'Guest 6',
  voice: 'Whoever speaks',
  share: 'What is shared',
  clip: 'Clip or still',
  line: 'Outside line',
};

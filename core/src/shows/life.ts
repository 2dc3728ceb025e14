// What may follow what in the life of a show and of its airings. One table each: the server moves by them alone.

export type ShowLife = 'draft' | 'placed' | 'onAir' | 'interrupted' | 'over' | 'withdrawn';

export const SHOW_LIFE: readonly ShowLife[] = ['draft', 'placed', 'onAir', 'interrupted', 'over', 'withdrawn'];

export type ShowEvent =
  /** An airing stands on its channel now, or will; at least one. */
  | 'placed'
  /** No airing stands any more. */
  | 'withdrawn everywhere'
  | 'go on air'
  /** Nobody carries it any more: the machine was stopped in the middle. */
  | 'interrupted'
  /** What was begun by mistake is taken back: nobody has seen anything. */
  | 'taken back'
  | 'wrapped'
  /** A date of a series is left out. */
  | 'left out';

export const SHOW_EVENTS: readonly ShowEvent[] = ['placed', 'withdrawn everywhere', 'go on air', 'interrupted', 'taken back', 'wrapped', 'left out'];

const SHOW: Record<ShowLife, Partial<Record<ShowEvent, ShowLife>>> = {
  draft: { placed: 'placed', 'left out': 'withdrawn' },
  placed: { placed: 'placed', 'withdrawn everywhere': 'draft', 'go on air': 'onAir', 'left out': 'withdrawn' },
  onAir: { interrupted: 'interrupted', 'taken back': 'placed', wrapped: 'over' },
  interrupted: { 'go on air': 'onAir', wrapped: 'over' },
  over: {},
  withdrawn: { placed: 'placed' },
};

/** The state of a show after an event; null: it is refused in this state. */
export function showAfter(state: ShowLife, event: ShowEvent): ShowLife | null {
  return SHOW[state][event] ?? null;
}

/**
 * How a show stands on one channel. `awaits reach`: it is placed by itself once its network takes it; `awaits air`: it is made there on
 * going on air; `unsure`: its network was asked, and whether the event stands there is not known.
 */
export type AiringLife = 'none' | 'awaits reach' | 'awaits air' | 'unsure' | 'placed' | 'refused' | 'withdrawn';

export const AIRING_LIFE: readonly AiringLife[] = ['none', 'awaits reach', 'awaits air', 'unsure', 'placed', 'refused', 'withdrawn'];

export type AiringEvent =
  /** Our own checks object. What may stand there, or was withdrawn, stays what it is. */
  | 'objected'
  | 'too far ahead'
  | 'made on going on air'
  /** Its network is being asked to make it: from now on it may stand there. */
  | 'asked'
  | 'refused there'
  /** On going on air: the event can be asked for once more. */
  | 'refused on air'
  | 'stands'
  | 'taken off'
  /** Made only for going on air, which was taken back. */
  | 'taken off again'
  /** What was withdrawn, or is known to be gone there, is placed once more, as another event. */
  | 'let go'
  /** Its event ended there while the show is on air: another is asked for. */
  | 'made anew on air';

export const AIRING_EVENTS: readonly AiringEvent[] = [
  'objected',
  'too far ahead',
  'made on going on air',
  'asked',
  'refused there',
  'refused on air',
  'stands',
  'taken off',
  'taken off again',
  'let go',
  'made anew on air',
];

const STANDS_NOT = {
  objected: 'refused',
  'too far ahead': 'awaits reach',
  'made on going on air': 'awaits air',
  asked: 'unsure',
  stands: 'placed',
} as const satisfies Partial<Record<AiringEvent, AiringLife>>;

const AIRING: Record<AiringLife, Partial<Record<AiringEvent, AiringLife>>> = {
  none: STANDS_NOT,
  refused: STANDS_NOT,
  'awaits reach': { ...STANDS_NOT, 'taken off': 'withdrawn' },
  'awaits air': { ...STANDS_NOT, 'taken off': 'withdrawn' },
  unsure: {
    objected: 'unsure',
    'too far ahead': 'unsure',
    'made on going on air': 'unsure',
    asked: 'unsure',
    'refused there': 'refused',
    'refused on air': 'awaits air',
    stands: 'placed',
    'taken off': 'withdrawn',
  },
  placed: { 'taken off': 'withdrawn', 'let go': 'none', 'made anew on air': 'unsure' },
  withdrawn: { objected: 'withdrawn', 'let go': 'none', stands: 'placed', 'taken off again': 'awaits air' },
};

/** How an airing stands after an event; null: it is refused in this state. */
export function airingAfter(state: AiringLife, event: AiringEvent): AiringLife | null {
  return AIRING[state][event] ?? null;
}

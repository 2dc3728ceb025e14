// What a scene is: data. A layout, its seats in order, what lies over them and what sounds. Seats are filled by what somebody or something is
// in a show and never by a device, so that the next show uses the same scenes with other people.
import type { View } from '../drawing/drawing';

export const GUEST_SEATS = ['guest 1', 'guest 2', 'guest 3', 'guest 4', 'guest 5', 'guest 6'] as const;
export const PEOPLE_SEATS = ['host', 'second host', ...GUEST_SEATS] as const;
export const THING_SEATS = ['share', 'clip', 'line'] as const;
/** A seat for whoever speaks. */
export const VOICE = 'voice';
export const SEATS = [...PEOPLE_SEATS, VOICE, ...THING_SEATS] as const;
export type GuestSeat = (typeof GUEST_SEATS)[number];
export type PersonSeat = (typeof PEOPLE_SEATS)[number];
export type Seat = (typeof SEATS)[number];

export const isPersonSeat = (seat: Seat): seat is PersonSeat | typeof VOICE => seat === VOICE || (PEOPLE_SEATS as readonly Seat[]).includes(seat);

export const isGuestSeat = (name: string): name is GuestSeat => (GUEST_SEATS as readonly string[]).includes(name);

export const SCENE_LAYOUTS = ['card', 'one', 'row', 'grid', 'lead', 'inset'] as const;
export type SceneLayout = (typeof SCENE_LAYOUTS)[number];

/** What a card says: that the show begins, that it has ended, or who helps. */
export const CARD_KINDS = ['holding', 'closing', 'sponsors'] as const;
export type CardKind = (typeof CARD_KINDS)[number];

/** A scene is known by a short name of its own within its station. */
export type SceneId = string;
export const SCENE_ID = /^[a-z0-9-]{1,40}$/;

export interface SceneSeat {
  seat: Seat;
  /** Null: as much of the picture as fits. */
  view: View | null;
}

export interface Scene {
  id: SceneId;
  name: string;
  layout: SceneLayout;
  /** Of a card; null: it is none. */
  card: CardKind | null;
  /** In their order. Those that nobody and nothing fills take no room. */
  seats: readonly SceneSeat[];
  /** Whether people's names stand with them. */
  straps: boolean;
  /** Whether the station's mark stands in a corner. */
  bug: boolean;
  microphones: 'shut' | 'open';
  /** How it follows the scene before. */
  comes: 'cut' | 'dissolve';
  /** Whether messages stand beside it as they come; missing: they do not. */
  messages?: boolean;
}

/** How long a dissolve takes, in ms. */
export const DISSOLVE_MS = 400;
/** How far a picture may be enlarged. */
export const MOST_ZOOM = 4;

/** The card with which every show begins, and which anybody may take from afar: no station is without it. */
export const HOLDING: SceneId = 'holding';

const seats = (...all: Seat[]): SceneSeat[] => all.map((seat) => ({ seat, view: null }));
const SHOWN = { card: null, straps: true, bug: true, microphones: 'open', comes: 'cut' } as const;
const CARD = { layout: 'card', seats: [], straps: false, bug: false, microphones: 'shut', comes: 'dissolve' } as const;

/** The clip alone, and no microphone: stations that had scenes before there were clips were given it. */
export const CLIP_SCENE: Scene = {
  ...{ id: 'clip', name: 'Clip', ...SHOWN, layout: 'one', seats: seats('clip') },
  ...{ straps: false, bug: false, microphones: 'shut' },
};

/** With which a station begins. */
export const FIRST_SCENES: readonly Scene[] = [
  { id: HOLDING, name: 'Holding card', ...CARD, card: 'holding' },
  { id: 'host', name: 'Welcome', ...SHOWN, layout: 'one', seats: seats('host') },
  { id: 'together', name: 'Talking together', ...SHOWN, layout: 'grid', seats: seats('host', 'second host', ...GUEST_SEATS) },
  { id: 'share', name: 'Share with faces', ...SHOWN, layout: 'lead', seats: seats('share', 'host', 'second host', ...GUEST_SEATS) },
  CLIP_SCENE,
  { id: 'beside', name: 'Host beside the line', ...SHOWN, layout: 'row', seats: seats('host', 'line') },
  { id: 'line', name: 'Outside line', ...SHOWN, bug: false, layout: 'one', seats: seats('line') },
  { id: 'closing', name: 'Closing card', ...CARD, card: 'closing' },
];

/** A scene as it is kept, in one order and without what its layout has no use for. A station's holding card stays one. */
export function plainScene({ id, name, layout, card, seats: all, straps, bug, microphones, comes, messages }: Scene): Scene {
  const isCard = layout === 'card';
  return {
    ...{ id, name: name.trim(), layout, microphones, comes, bug, straps: straps && !isCard },
    ...(messages && !isCard && { messages }),
    card: !isCard ? null : id === HOLDING ? 'holding' : (card ?? 'closing'),
    seats: isCard ? [] : all.map(({ seat, view }) => ({ seat, view: view && { zoom: view.zoom, x: view.x, y: view.y } })),
  };
}

/** The scenes of a show: those of its station, in their order, where the show has none of its own for one. */
export function scenesOfShow<Any extends Scene>(station: readonly Any[], own: readonly Scene[]): (Any | Scene)[] {
  const taken = station.map((scene) => own.find(({ id }) => id === scene.id) ?? scene);
  // A station may have taken one out since: what the show has of its own stays with it.
  return [...taken, ...own.filter(({ id }) => !station.some((scene) => scene.id === id))];
}

export const sceneOf = (scenes: readonly Scene[], id: SceneId): Scene | undefined => scenes.find((scene) => scene.id === id);

export const shows = (scene: Scene, seat: Seat): boolean => scene.seats.some((each) => each.seat === seat);

/** Whether the host's microphone goes out: never on a scene that shuts microphones, whatever its own switch says. */
export const microphoneGoesOut = (scene: Scene, ownSwitchOn: boolean): boolean => ownSwitchOn && scene.microphones === 'open';

/** A scene as it is while `who` speaks: they stand in the seat that follows the voice, and not once more in their own. Null: nobody does, and it takes no room. */
export function withVoice(scene: Scene, who: PersonSeat | null): Scene {
  if (!shows(scene, VOICE)) return scene;
  const others = scene.seats.filter(({ seat }) => seat !== who);
  return { ...scene, seats: others.flatMap((each) => (each.seat !== VOICE ? [each] : who === null ? [] : [{ ...each, seat: who }])) };
}

/** Whether a scene has something to show: a card always, another where one of its seats is filled. */
export const hasSomething = ({ layout, seats }: Scene, filled: (seat: Seat) => boolean): boolean => layout === 'card' || seats.some(({ seat }) => filled(seat));

/**
 * The scene that stands next once `taken` is in the programme, until somebody chooses another: the one before, so that a second take goes back,
 * else the first with something on it that is no card, else the holding card.
 */
export function sceneAfterTake(scenes: readonly Scene[], taken: SceneId, before: SceneId | null, filled: (seat: Seat) => boolean): SceneId {
  const usable = (id: SceneId | null): id is SceneId => {
    const scene = id === null || id === taken ? undefined : sceneOf(scenes, id);
    return scene !== undefined && hasSomething(scene, filled);
  };
  if (usable(before)) return before;
  const first = scenes.find(({ id, layout }) => layout !== 'card' && usable(id));
  return sceneOf(scenes, taken)?.layout === 'card' ? (first?.id ?? HOLDING) : HOLDING;
}

/** The scene that comes by itself for what begins: the first that has it for its largest picture, else the first that has it at all. */
export function sceneFor(scenes: readonly Scene[], seat: 'share' | 'clip'): SceneId | null {
  const withIt = scenes.filter((scene) => shows(scene, seat));
  return (withIt.find(({ seats: [first] }) => first?.seat === seat) ?? withIt[0])?.id ?? null;
}

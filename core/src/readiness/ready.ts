// What is ready for a show and what is not: facts in words, each with where it is put right. None of it keeps anybody from going on air.
import type { CameraVerdict } from '../scenes/camera';
import type { SoundVerdict } from '../sound/sound-watch';

/** `look`: somebody ought to look at it. `unknown`: nobody can say yet. */
export type ReadyState = 'good' | 'look' | 'unknown';

export interface ReadyPoint {
  what: string;
  state: ReadyState;
  words: string;
  /** The section of the sheet in which it is put right, or an address that begins with a stroke; null: here. */
  at: string | null;
}

/** What is known at a stage; null elsewhere. */
export interface StageFacts {
  /** Why camera or microphone cannot be used; empty: both can. */
  deviceTrouble: string;
  sound: SoundVerdict;
  /** Whether something has been heard of the microphone since the stage was opened. */
  heard: boolean;
  camera: CameraVerdict | null;
  /** What the line carries, in kbit/s; null: it is being measured. */
  uplinkKbps: number | 'could not be measured' | null;
}

export interface ReadyFacts {
  title: string;
  channels: readonly { name: string; stands: boolean; refusal: string; access: boolean; conditions: readonly string[] }[];
  hasPicture: boolean;
  hasWaiting: boolean;
  houseIsOpen: boolean;
  /** How much the running order is over, in ms; null: none is planned. */
  overMs: number | null;
  staleGraphics: number;
  /** Works of which nobody has said whose they are, and clips that cannot be played. */
  uncleared: readonly string[];
  clipsAmiss: readonly string[];
  /** What is wrong with the room on the disk, in words; empty: nothing. */
  roomTrouble: string;
  /** When it was last rehearsed, said as a distance; null: never. Undefined: it cannot be. */
  rehearsed: string | null | undefined;
  stage: StageFacts | null;
}

/** What a stage sends, with room for what is said beside it, in kbit/s. */
export const UPLINK_NEEDS_KBPS = 2_800;
const AMPLE = 1.6;

const CAMERA_WORDS: Record<CameraVerdict, string> = {
  good: 'Light and sharpness are good.',
  'very dark': 'Very dark: put a lamp in front of you.',
  'too bright': 'Too bright: turn the lamp away, or step back.',
  backlit: 'The light is behind you: turn round, or draw the curtain.',
  'not sharp': 'Not sharp: wipe the lens, or step back.',
  frozen: 'The camera’s picture stands still: plug it in again.',
};
export const sayCamera = (verdict: CameraVerdict): string => CAMERA_WORDS[verdict];

const SOUND_WORDS: Record<SoundVerdict, string> = {
  silent: 'Nothing is heard: say something.',
  good: 'Heard.',
  'too loud': 'Too loud: turn the microphone down.',
  'one-sided': 'One side is silent: look at the plug, or choose the microphone again.',
  humming: 'It hums: keep its cable away from mains, or use another plug.',
};

const minutes = (ms: number): string => `${Math.max(1, Math.round(ms / 60_000))} min`;
const listed = (names: readonly string[]): string => (names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', '));

/** In the order in which a host goes through them. */
export function readyPoints(facts: ReadyFacts): ReadyPoint[] {
  const { channels, title, hasPicture, hasWaiting, overMs, staleGraphics, uncleared, clipsAmiss, roomTrouble, rehearsed, stage } = facts;
  const point = (what: string, good: boolean | null, words: string, at: string | null): ReadyPoint => ({
    ...{ what, words, at, state: good === null ? 'unknown' : good ? 'good' : 'look' },
  });
  const missing = channels.filter(({ stands }) => !stands);
  const [ended, amiss] = [channels.filter(({ access }) => !access), channels.filter(({ conditions }) => conditions.length)];
  return [
    point(
      'Who publishes where',
      channels.length > 0 && !missing.length,
      !channels.length
        ? 'On no channel yet.'
        : missing.length
          ? `Does not stand on ${listed(missing.map(({ name, refusal }) => (refusal ? `${name} (${refusal})` : name)))}.`
          : `Stands on ${listed(channels.map(({ name }) => name))}.`,
      'where',
    ),
    point(
      'Access',
      !ended.length && !amiss.length,
      ended.length
        ? `Has run out for ${listed(ended.map(({ name }) => name))}: link again.`
        : amiss.length
          ? listed(amiss.map(({ name, conditions }) => `${name}: ${conditions.join(' ')}`))
          : 'Good everywhere.',
      '/channels',
    ),
    point(
      'Title and picture',
      title.trim() !== '' && hasPicture,
      !title.trim() ? 'No title yet.' : !hasPicture ? 'No thumbnail yet.' : 'There.',
      hasPicture ? 'what' : 'picture',
    ),
    point('Waiting picture', hasWaiting, hasWaiting ? 'There.' : 'Early viewers see the sky of the station.', 'picture'),
    point('House page', true, facts.houseIsOpen ? 'For everyone.' : 'For some only, as you said.', 'house'),
    point(
      'Running order',
      overMs === null || overMs <= 0,
      overMs === null ? 'None is planned.' : overMs > 0 ? `${minutes(overMs)} over the planned end, or over a fixed time.` : 'Fits.',
      'running-order',
    ),
    point(
      'Graphics',
      !staleGraphics,
      staleGraphics ? `${staleGraphics === 1 ? '1 was' : `${staleGraphics} were`} made for another evening.` : 'None of another evening.',
      'graphics',
    ),
    point(
      'Clips and rights',
      !clipsAmiss.length && !uncleared.length,
      clipsAmiss.length
        ? `Cannot be played: ${listed(clipsAmiss)}.`
        : uncleared.length
          ? `Nobody has said whose these are: ${listed(uncleared)}.`
          : 'All can be played, and of all it is said whose they are.',
      'clips',
    ),
    point('Room for the recording', !roomTrouble, roomTrouble || 'Enough.', null),
    ...(rehearsed === undefined
      ? []
      : [point('Rehearsal', rehearsed !== null, rehearsed === null ? 'Not rehearsed yet.' : `Rehearsed ${rehearsed}.`, 'rehearsal')]),
    ...(stage ? stagePoints(stage, point) : []),
  ];
}

function stagePoints(
  { deviceTrouble, sound, heard, camera, uplinkKbps }: StageFacts,
  point: (what: string, good: boolean | null, words: string, at: string | null) => ReadyPoint,
): ReadyPoint[] {
  const known = typeof uplinkKbps === 'number';
  const mbps = known ? `${(uplinkKbps / 1_000).toFixed(1)} Mbit/s` : '';
  return [
    point('Camera and microphone', !deviceTrouble, deviceTrouble || 'Both can be used.', null),
    // Silent at this moment is no matter where something has been heard.
    point('Sound', heard && (sound === 'good' || sound === 'silent'), SOUND_WORDS[sound === 'silent' && heard ? 'good' : heard ? sound : 'silent'], null),
    point('Light', camera === null ? null : camera === 'good', camera === null ? 'No camera to judge.' : CAMERA_WORDS[camera], null),
    point(
      'Your line',
      known ? uplinkKbps >= UPLINK_NEEDS_KBPS * AMPLE : null,
      !known
        ? uplinkKbps === null
          ? 'Being measured.'
          : 'It could not be measured: the server did not take the trial.'
        : uplinkKbps < UPLINK_NEEDS_KBPS
          ? `Too slow: ${mbps} to the server, and a show needs ${UPLINK_NEEDS_KBPS / 1_000}. Use a cable, or stop what else sends.`
          : uplinkKbps < UPLINK_NEEDS_KBPS * AMPLE
            ? `Just enough: ${mbps} to the server. Stop what else sends.`
            : `Enough: ${mbps} to the server.`,
      null,
    ),
  ];
}

/** In one line. */
export function sayReady(points: readonly ReadyPoint[]): string {
  const look = points.filter(({ state }) => state === 'look');
  if (!look.length) return 'All is ready, as far as can be known here.';
  return `${look.length === 1 ? '1 thing' : `${look.length} things`} to look at: ${listed(look.map(({ what }) => what.toLowerCase()))}.`;
}

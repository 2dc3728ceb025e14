// How a show goes out, one verdict for each way that it takes: what is wrong, what to do about it, and only once that has lasted.
import type { CameraVerdict } from '../scenes/camera';
import type { SoundVerdict } from '../sound/sound-watch';
import type { LoudnessVerdict } from '../sound/loudness';
import type { Lamp } from './lamp';
import { PICTURE_KBPS, type UplinkVerdict } from './uplink-rate';

/** What a stage knows of the last second. */
export interface SignalFacts {
  /** How the own camera is to be judged; `lost`: it brought pictures, and brings none; null: none is used. */
  camera: CameraVerdict | 'lost' | null;
  /** The own microphone; null: it is off, or its scene has microphones shut. */
  microphone: SoundVerdict | null;
  /** The programme as it goes out; null: not measured. */
  loudness: LoudnessVerdict | null;
  /** Pictures that were made, and that were due and were not; null: not known. */
  pictures: { made: number; missed: number } | null;
  /** The stage's tab is not seen. */
  hidden: boolean;
  /** How many guests are seen, and whether their pictures come smaller already; missing: none is. */
  guests?: { seen: number; smaller: boolean };
  /** The line to the server; null: nothing is sent from here. */
  line: { connected: boolean; confirmedKbps: number; uplink: UplinkVerdict | null } | null;
  channels: readonly { id: string; name: string; lamp: Lamp; words: string }[];
}

/** `mind`: viewers have it less well; `bad`: they see or hear it at once. */
export type Weight = 'mind' | 'bad';

export interface Fault {
  /** Names the way, and what is wrong with it. */
  way: string;
  kind: string;
  weight: Weight;
  words: string;
  todo: string;
}

export interface WayVerdict {
  way: string;
  name: string;
  /** As measured now, in words. */
  measured: string;
  /** It has a part in this show: of what is not used, nothing is good either. */
  used: boolean;
  /** The heaviest that stands; null: nothing is wrong. */
  fault: Fault | null;
}

type Told = readonly [weight: Weight, words: string, todo: string];

const CAMERA: Record<Exclude<CameraVerdict, 'good'> | 'lost', Told> = {
  lost: ['bad', 'The camera brings no picture any more.', 'Look at its plug, or choose another camera.'],
  frozen: ['bad', 'The camera shows the same picture again and again.', 'Choose it once more, or plug it in anew.'],
  'very dark': ['mind', 'The picture is very dark.', 'A lamp before you helps most.'],
  'too bright': ['mind', 'The picture is too bright.', 'Turn a lamp away, or close a curtain.'],
  backlit: ['mind', 'You sit before a light, and your face is dark.', 'Turn round, or put a lamp before you.'],
  'not sharp': ['mind', 'The picture is not sharp.', 'Wipe the lens, or let the camera find you.'],
};
const SOUND: Record<Exclude<SoundVerdict, 'good'>, Told> = {
  silent: ['mind', 'Your microphone is open, and nothing is heard of it.', 'Say something, or look at its plug and its own switch.'],
  'too loud': ['mind', 'Your microphone is so loud that it is cut off.', 'Move away from it, or turn it down.'],
  'one-sided': ['mind', 'One side of your sound is silent.', 'Look at the plug or cable that it comes from.'],
  humming: ['mind', 'Your sound hums.', 'Keep its cable away from mains, or use another plug.'],
};
/** Part of a second's pictures that may be missing before anybody sees it. */
const MISSED_SHARE = 0.1;
const UNSEEN_FPS = 20;

/** Seconds in a row before something is said, and before it is taken back. What was judged over a time before it came here has lasted already. */
const SAID_AFTER: Record<string, number> = { silent: 4, 'very dark': 3, 'too bright': 3, backlit: 3, 'not sharp': 3, 'few pictures': 4, hidden: 2, broken: 2 };
const TAKEN_BACK_AFTER = 3;

/** Faults as they are in this second. */
export function faultsOf({ camera, microphone, loudness, pictures, hidden, guests, line, channels }: SignalFacts): Fault[] {
  const faults: Fault[] = [];
  const add = (way: string, kind: string, [weight, words, todo]: Told) => faults.push({ way, kind, weight, words, todo });
  if (camera !== null && camera !== 'good') add('camera', camera, CAMERA[camera]);
  if (microphone !== null && microphone !== 'good') add('sound', microphone, SOUND[microphone]);
  if (loudness === 'clips') add('sound', 'clips', ['bad', 'The programme is cut off at its loudest.', 'Turn down what is loudest in the mixer.']);
  if (pictures) {
    const due = pictures.made + pictures.missed;
    if (due > 0 && pictures.missed / due > MISSED_SHARE && pictures.made < UNSEEN_FPS) {
      const how = hidden
        ? 'Bring the stage’s tab to the front: browsers give a hidden one little time.'
        : guests && guests.seen > 0 && !guests.smaller
          ? 'Have guests’ pictures come smaller, or close other programs and tabs.'
          : 'Close other programs and tabs, and bring in fewer guests with their pictures.';
      add('stage', 'few pictures', ['mind', `This machine makes ${pictures.made} of ${due} pictures a second.`, how]);
    }
  }
  if (line) {
    const { connected, uplink } = line;
    if (!connected)
      add('line', 'broken', [
        'bad',
        'The line to the server is broken: viewers see the break card.',
        'It is tried again by itself. A cable, or another network, helps.',
      ]);
    else if (uplink?.tooSlow)
      add('line', 'too slow', ['bad', 'The line gives too little even for the thinnest picture.', 'A cable, or another network, helps. Sound goes first.']);
    else if (uplink && uplink.pictureKbps < PICTURE_KBPS[0])
      add('line', 'thin', [
        'mind',
        `The picture goes out with ${uplink.pictureKbps} of ${PICTURE_KBPS[0]} kbit/s.`,
        'It goes up again by itself. Stop what else uses the line.',
      ]);
  }
  for (const { id, lamp, words } of channels)
    if (lamp === 'fault') add(`channel ${id}`, 'fault', ['bad', words, 'Its card at the foot of the stage offers what can be done.']);
  return faults;
}

/** Follows a show second by second; faults stand once they have lasted, and until they have been gone for a while, so that nothing flickers. */
export class SignalWatch {
  private readonly counted = new Map<string, { fault: Fault; there: number; gone: number; stands: boolean }>();

  /** To be called once a second. */
  hear(facts: SignalFacts): WayVerdict[] {
    const now = new Map(faultsOf(facts).map((fault) => [`${fault.way} ${fault.kind}`, fault]));
    for (const [key, fault] of now) {
      const known = this.counted.get(key) ?? { fault, there: 0, gone: 0, stands: false };
      const there = known.there + 1;
      this.counted.set(key, { fault, there, gone: 0, stands: known.stands || there >= (SAID_AFTER[fault.kind] ?? 1) });
    }
    for (const [key, known] of this.counted) {
      if (now.has(key)) continue;
      const gone = known.gone + 1;
      if (!known.stands || gone >= TAKEN_BACK_AFTER) this.counted.delete(key);
      else this.counted.set(key, { ...known, gone, there: 0 });
    }
    const stands = [...this.counted.values()].filter((each) => each.stands).map(({ fault }) => fault);
    return waysOf(facts).map(({ way, name, measured, used }) => {
      const own = stands.filter((fault) => fault.way === way);
      return { way, name, measured, used, fault: own.find(({ weight }) => weight === 'bad') ?? own[0] ?? null };
    });
  }
}

function waysOf({ camera, microphone, pictures, line, channels }: SignalFacts): Omit<WayVerdict, 'fault'>[] {
  return [
    {
      way: 'camera',
      name: 'Camera',
      used: camera !== null,
      measured: camera === null ? 'No camera is used.' : camera === 'lost' ? 'No picture.' : 'It brings pictures.',
    },
    { way: 'sound', name: 'Sound', used: true, measured: microphone === null ? 'Your microphone is shut.' : 'Your microphone is open.' },
    {
      way: 'stage',
      name: 'Stage',
      used: pictures !== null,
      measured: pictures ? `${pictures.made} ${pictures.made === 1 ? 'picture' : 'pictures'} a second.` : 'Not measured yet.',
    },
    {
      ...{ way: 'line', name: 'Line', used: line !== null },
      measured: !line ? 'Nothing is sent from here.' : !line.connected ? 'Broken.' : `${(line.confirmedKbps / 1_000).toFixed(1)} Mbit/s arrive at the server.`,
    },
    ...channels.map(({ id, name, lamp, words }) => ({ way: `channel ${id}`, name, used: lamp !== 'dark' && lamp !== 'out', measured: words })),
  ];
}

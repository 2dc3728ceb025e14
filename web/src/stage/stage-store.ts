// What the stage shows at this moment. Written by the stage engine, read by the views.
import type { AirView, HandingView, OtherStage } from '@lantern/contract';
import {
  FIRST_SCENES,
  FIRST_STRIPS,
  HOLDING,
  type CameraVerdict,
  type ClipInShow,
  type Graphic,
  type GuestSeat,
  type Instant,
  type Loudness,
  type PersonSeat,
  type Scene,
  type SceneId,
  type ShownKind,
  type Seat,
  type StripName,
  type StripSetting,
  STRIPS,
  VOICE,
  USUAL_TARGET_LUFS,
  type UplinkVerdict,
} from '@lantern/core';
import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Playable } from '../clips/clips-of-show';
import type { Levels } from './sound-desk';
import type { StageGuest } from './stage-guests';

/** By what the sting of the look goes among the clips of a show: it has a key of its own, and is never next. */
export const STING = 'sting of the look';

export interface Device {
  id: string;
  name: string;
}

/** A graphic as it goes out. */
export type StageGraphic = Pick<Graphic, 'id' | 'text' | 'more' | 'hidesAfterS' | 'cue'> & { kind: ShownKind; stale: boolean };

/** Something to be played into the show. */
export type StageClip = Playable & Pick<ClipInShow, 'id' | 'cue' | 'then'>;

export interface StageState {
  /** Whether camera and microphone may be used, and why not. */
  devices: { state: 'asking' | 'ready' | 'refused'; words: string };
  cameras: Device[];
  microphones: Device[];
  /** The host's own camera, for the host to see; null: there is none. */
  ownCamera: MediaStream | null;
  cameraId: string;
  microphoneId: string;
  /** What each strip of the mixer is set to. */
  strips: Readonly<Record<StripName, StripSetting>>;
  /** The programme is brought slowly to the loudness of streams. */
  levelled: boolean;
  /** How loud the programme is to be, in LUFS. */
  targetLufs: number;
  /** Of each strip before any switch. */
  levels: Levels;
  /** Of the programme as it goes out from here; null: not measured. */
  loudness: Loudness | null;
  /** The station's, in its order. */
  scenes: readonly Scene[];
  programme: SceneId;
  /** The scene that was in the programme before. */
  before: SceneId | null;
  /** What the next take brings. */
  next: SceneId;
  /** The cue of the running order that the next take begins; null: it brings a scene and no more. */
  nextCue: string | null;
  /** How the own camera is to be judged; null: there is none, or not yet. */
  camera: CameraVerdict | null;
  /** Something has been heard of the own microphone. */
  heard: boolean;
  /** The own camera brought pictures, and brings none any more. */
  cameraLost: boolean;
  /** At the start of the show the first scene comes by itself. */
  beginsByItself: boolean;
  /** What is shared from here. `words`: why nothing is, where it was wanted or was there before. */
  share: { on: boolean; withSound: boolean; words: string };
  /** Whether a share brings its scene, and its end the one before. */
  shareChangesScene: boolean;
  /** What can be laid over the picture, in the order of use, its placeholders filled in. */
  graphics: readonly StageGraphic[];
  /** What visitors ask, as it can be laid over the picture: never next by itself. */
  questions: readonly StageGraphic[];
  /** The one that is shown; null: none is. */
  shownGraphic: string | null;
  /** The one that the next press shows; null: all have been. */
  nextGraphic: string | null;
  /** What is prepared to be played, in the order of use. */
  clips: readonly StageClip[];
  /** The one that is played; null: none is. `endsAt`: by the server's clock; null: it stays until it is taken away. */
  clip: { id: string; kind: 'film' | 'sound' | 'still'; endsAt: Instant | null } | null;
  /** The one that the next press plays; null: all have been. */
  nextClip: string | null;
  /** What a clip did not do, and what to do about it; empty: nothing. */
  clipWords: string;
  /** Who is in the green room, in the order of the bench. */
  guests: readonly StageGuest[];
  /** Whose offered screen is shown; null: nobody's. */
  /** Guests' pictures come smaller than they are drawn, since this machine does not keep up. */
  guestsSmaller: boolean;
  guestShare: string | null;
  /** Whom the host has put into the seat that follows the voice; null: it follows the voice. */
  keptInVoice: PersonSeat | null;
  /** To whom the host speaks at this moment, into their ears alone. */
  talksTo: readonly string[];
  connected: boolean;
  /** Since when nothing is heard of the server, by its clock; null: it is heard. */
  unheardSince: number | null;
  /** Who has taken the stage from here; empty: nobody. */
  lostTo: string;
  /** The stage as it is handed over; null: it is not. */
  handing: HandingView | null;
  /** Of the last second: pictures that were made here, and that were due and were not; null: not measured. */
  pictures: { made: number; missed: number } | null;
  /** What the server has confirmed of the last second, in kbit/s; null: nothing is sent. */
  confirmedKbps: number | null;
  /** What the line takes of the picture; null: it is not known yet. */
  uplink: UplinkVerdict | null;
  /** The other stages to which this one can hand over. */
  couldTake: readonly OtherStage[];
  /** Why a hand-over has not come about; empty: nothing to say. */
  notHanded: string;
  /** What somebody else did here from afar, in words; empty: nothing. */
  askedBy: string;
  /** The sound needs a touch before the browser lets it run. */
  soundAsleep: boolean;
  sending: boolean;
  air: AirView | null;
  trouble: string;
}

const UNHEARD = { rmsDb: -90, peakDb: -90 };

export const EMPTY_STAGE: StageState = {
  devices: { state: 'asking', words: '' },
  cameras: [],
  microphones: [],
  ownCamera: null,
  cameraId: '',
  microphoneId: '',
  strips: FIRST_STRIPS,
  levelled: true,
  targetLufs: USUAL_TARGET_LUFS,
  levels: {
    ...(Object.fromEntries(STRIPS.map((name) => [name, UNHEARD])) as Record<StripName, typeof UNHEARD>),
    verdicts: Object.fromEntries(STRIPS.map((name) => [name, 'silent'])) as Levels['verdicts'],
  },
  loudness: null,
  scenes: FIRST_SCENES,
  programme: HOLDING,
  before: null,
  next: 'host',
  nextCue: null,
  camera: null,
  heard: false,
  cameraLost: false,
  beginsByItself: false,
  share: { on: false, withSound: false, words: '' },
  shareChangesScene: true,
  graphics: [],
  questions: [],
  pictures: null,
  confirmedKbps: null,
  shownGraphic: null,
  nextGraphic: null,
  clips: [],
  clip: null,
  nextClip: null,
  clipWords: '',
  guests: [],
  guestsSmaller: false,
  guestShare: null,
  keptInVoice: null,
  talksTo: [],
  connected: false,
  unheardSince: null,
  lostTo: '',
  handing: null,
  uplink: null,
  couldTake: [],
  notHanded: '',
  askedBy: '',
  soundAsleep: false,
  sending: false,
  air: null,
  trouble: '',
};

/** Whether somebody or something is there to be seen on a seat. */
export const isFilled =
  ({ shares, plays, lineOnStage, guests }: { shares: boolean; plays: boolean; lineOnStage: string | null; guests: readonly StageGuest[] }) =>
  (seat: Seat): boolean =>
    seat === 'host' ||
    seat === VOICE ||
    (seat === 'share' && shares) ||
    (seat === 'clip' && plays) ||
    (seat === 'line' && lineOnStage !== null) ||
    guests.some((guest) => guest.broughtIn && guest.seat === seat);

/** The seats of those who are in the show and not muted. */
export const heardGuests = (guests: readonly StageGuest[]): GuestSeat[] => guests.filter(({ broughtIn, muted }) => broughtIn && !muted).map(({ seat }) => seat);

/** Whether something is played that is to be seen. */
export const playsPicture = ({ clip }: Pick<StageState, 'clip'>): boolean => clip !== null && clip.kind !== 'sound';

/** The scene with that name. One that was taken out since, or is not known yet, is the holding card: nothing of it goes out by mistake. */
export const sceneIn = (scenes: readonly Scene[], id: SceneId): Scene => scenes.find((scene) => scene.id === id) ?? holdingOf(scenes);
const holdingOf = (scenes: readonly Scene[]): Scene => scenes.find(({ id }) => id === HOLDING) ?? FIRST_SCENES[0]!;

export const useStage = create<StageState>(() => EMPTY_STAGE);

/** Some of what the stage shows, named, so that what changes many times a second, as the level of the sound does, draws only where it is shown. */
export const useStageOf = <Name extends keyof StageState>(...names: Name[]): Pick<StageState, Name> =>
  useStage(useShallow((state) => Object.fromEntries(names.map((name) => [name, state[name]])) as Pick<StageState, Name>));

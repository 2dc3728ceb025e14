// What the stage shows at this moment. Written by the stage engine, read by the views.
import type { AirView } from '@lantern/contract';
import type { Loudness, SceneId, SoundVerdict } from '@lantern/core';
import { create } from 'zustand';

export interface Device {
  id: string;
  name: string;
}

export interface StageState {
  /** Whether camera and microphone may be used, and why not. */
  devices: { state: 'asking' | 'ready' | 'refused'; words: string };
  cameras: Device[];
  microphones: Device[];
  cameraId: string;
  microphoneId: string;
  microphoneOn: boolean;
  /** Of the microphone itself, before any switch. */
  level: { rmsDb: number; peakDb: number; verdict: SoundVerdict; line: { rmsDb: number; peakDb: number } };
  /** Of the programme as it goes out from here; null: not measured. */
  loudness: Loudness | null;
  programme: SceneId;
  /** What the next take brings. */
  next: SceneId;
  /** The strip of the outside line: `volume` from 0 to 1; `here`: heard by the host too. */
  line: { on: boolean; volume: number; here: boolean };
  connected: boolean;
  /** Since when nothing is heard of the server, by its clock; null: it is heard. */
  unheardSince: number | null;
  /** Who has taken the stage from here; empty: nobody. */
  lostTo: string;
  /** What somebody else did here from afar, in words; empty: nothing. */
  askedBy: string;
  /** The sound needs a touch before the browser lets it run. */
  soundAsleep: boolean;
  sending: boolean;
  air: AirView | null;
  trouble: string;
}

export const EMPTY_STAGE: StageState = {
  devices: { state: 'asking', words: '' },
  cameras: [],
  microphones: [],
  cameraId: '',
  microphoneId: '',
  microphoneOn: true,
  level: { rmsDb: -90, peakDb: -90, verdict: 'silent', line: { rmsDb: -90, peakDb: -90 } },
  loudness: null,
  programme: 'holding',
  next: 'host',
  line: { on: true, volume: 1, here: false },
  connected: false,
  unheardSince: null,
  lostTo: '',
  askedBy: '',
  soundAsleep: false,
  sending: false,
  air: null,
  trouble: '',
};

export const useStage = create<StageState>(() => EMPTY_STAGE);

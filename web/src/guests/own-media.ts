// A guest's own camera and microphone, in any current browser; drawn ones where there are none.
import { GUEST_SEATS, type GuestSeat, type Seat } from '@lantern/core';
import { DRAWN_SIZE, DrawnSource } from '../programme/drawn-source';
import { murmur } from '../programme/murmur';

/** Instead of a device: somebody drawn, and a murmur. */
export const DRAWN = 'drawn';
const DRAWN_FPS = 15;
/** Devices of this browser that were chosen last. */
const REMEMBERED = 'lantern-guest-devices';

export interface Device {
  id: string;
  name: string;
}

export interface Chosen {
  /** Empty: whichever the browser prefers. */
  cameraId: string;
  microphoneId: string;
  soundOnly: boolean;
}

export interface Opened {
  camera: MediaStreamTrack | null;
  microphone: MediaStreamTrack | null;
  /** Why not all of it could be had, and what to do; empty: it could. */
  words: string;
  close(): void;
}

export const remembered = (): Chosen => {
  const none = { cameraId: '', microphoneId: '', soundOnly: false };
  try {
    return { ...none, ...(JSON.parse(localStorage.getItem(REMEMBERED) ?? '{}') as Partial<Chosen>) };
  } catch {
    return none;
  }
};

export const remember = (chosen: Chosen): void => localStorage.setItem(REMEMBERED, JSON.stringify(chosen));

/** Opens what was chosen. Whatever can be had is had: a microphone alone is better than nothing. */
export async function openOwn({ cameraId, microphoneId, soundOnly }: Chosen, context: AudioContext, guestId: string): Promise<Opened> {
  const drawn = cameraId === DRAWN && !soundOnly ? drawnCamera(figureOf(guestId)) : null;
  const made = microphoneId === DRAWN ? madeUpVoice(context) : null;
  const wanted = (id: string) => (id ? { deviceId: { ideal: id } } : {});
  const video: MediaTrackConstraints | false = !soundOnly &&
    !drawn && { ...wanted(cameraId), width: { ideal: 1280 }, height: { ideal: 720 }, frameRate: { ideal: 30 }, facingMode: 'user' };
  const audio: MediaTrackConstraints | false = !made && { ...wanted(microphoneId), echoCancellation: true, noiseSuppression: true, autoGainControl: true };
  let words = '';
  const tracks: MediaStreamTrack[] = [];
  const { mediaDevices } = navigator as { mediaDevices?: MediaDevices };
  if (!mediaDevices && (video || audio)) words = 'This browser gives no camera to this address. Open it by https, or in another browser.';
  else if (mediaDevices && (video || audio)) {
    const take = (stream: MediaStream) => tracks.push(...stream.getTracks());
    await mediaDevices.getUserMedia({ video, audio }).then(take, async (error: unknown) => {
      words = wordsOf(error);
      if (!video || !audio) return;
      const each = await Promise.allSettled([mediaDevices.getUserMedia({ audio }), mediaDevices.getUserMedia({ video })]);
      for (const one of each) if (one.status === 'fulfilled') take(one.value);
    });
  }
  const camera = drawn?.track ?? tracks.find(({ kind }) => kind === 'video') ?? null;
  const microphone = made?.track ?? tracks.find(({ kind }) => kind === 'audio') ?? null;
  return {
    ...{ camera, microphone, words },
    close: () => {
      for (const track of tracks) track.stop();
      drawn?.close();
      made?.close();
    },
  };
}

export async function devicesHere(): Promise<{ cameras: Device[]; microphones: Device[] }> {
  const all = (await (navigator as { mediaDevices?: MediaDevices }).mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
  const named = (kind: MediaDeviceKind, word: string) =>
    all.filter((device) => device.kind === kind && device.deviceId).map(({ deviceId, label }, at) => ({ id: deviceId, name: label || `${word} ${at + 1}` }));
  return { cameras: named('videoinput', 'Camera'), microphones: named('audioinput', 'Microphone') };
}

function wordsOf(error: unknown): string {
  switch (error instanceof DOMException ? error.name : '') {
    case 'NotAllowedError':
      return 'Your browser was told not to use camera and microphone here. Press the sign beside the address, allow both, then try again. On a phone it may stand in the settings of the browser.';
    case 'NotFoundError':
      return 'No camera or no microphone was found. Plug it in, then try again, or go on by sound only.';
    case 'NotReadableError':
      return 'Another program holds the camera or the microphone: a call that is still open, perhaps. Close it, then try again.';
    default:
      return 'Camera and microphone could not be opened. Try again, or use another browser.';
  }
}

/** Whoever is drawn is always the same one. */
const figureOf = (guestId: string): GuestSeat =>
  GUEST_SEATS[[...guestId].reduce((sum, letter) => sum + letter.charCodeAt(0), 0) % GUEST_SEATS.length] ?? 'guest 1';

function drawnCamera(seat: Seat): { track: MediaStreamTrack; close: () => void } {
  const canvas = document.createElement('canvas');
  Object.assign(canvas, DRAWN_SIZE);
  const context = canvas.getContext('2d', { alpha: false })!;
  const source = new DrawnSource({ what: 'figure', seat });
  const draw = () => context.drawImage(source.at(performance.now()), 0, 0);
  draw();
  const timer = setInterval(draw, 1_000 / DRAWN_FPS);
  const track = canvas.captureStream(DRAWN_FPS).getVideoTracks()[0]!;
  return {
    track,
    close: () => {
      clearInterval(timer);
      track.stop();
    },
  };
}

function madeUpVoice(context: AudioContext): { track: MediaStreamTrack; close: () => void } {
  const out = context.createMediaStreamDestination();
  const source = murmur(context);
  source.connect(out);
  return { track: out.stream.getAudioTracks()[0]!, close: () => source.stop() };
}

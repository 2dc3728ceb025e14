// Encodes the programme for guests: half as many pictures, a quarter of the size, VP8, which every browser with WebCodecs reads.
import { RETURN_CODEC, RETURN_FPS, RETURN_SIZE } from '@lantern/core';

export type ToReturn = { type: 'begin'; frames: ReadableStream<VideoFrame> } | { type: 'watched'; yes: boolean } | { type: 'key' };
export interface FromReturn {
  isKey: boolean;
  bytes: ArrayBuffer;
}

const BITRATE = 600_000;
const EVERY_US = 1_000_000 / RETURN_FPS;
/** Whoever lost a picture waits no longer than this for the next that stands alone. */
const KEY_EVERY_MS = 2_000;
const MOST_WAITING = 2;

let encoder: VideoEncoder | null = null;
let watched = false;
let keyDueAt = 0;
let lastUs = -Infinity;

function made(): VideoEncoder {
  const fresh = new VideoEncoder({
    output: (chunk) => {
      const bytes = new ArrayBuffer(chunk.byteLength);
      chunk.copyTo(bytes);
      self.postMessage({ isKey: chunk.type === 'key', bytes } satisfies FromReturn, { transfer: [bytes] });
    },
    error: () => {
      if (encoder === fresh) encoder = null;
    },
  });
  fresh.configure({ codec: RETURN_CODEC, ...RETURN_SIZE, bitrate: BITRATE, framerate: RETURN_FPS, latencyMode: 'realtime' });
  keyDueAt = 0;
  return fresh;
}

async function read(frames: ReadableStream<VideoFrame>): Promise<void> {
  const reader = frames.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    // A little less than the distance: pictures come by a timer, and not to the microsecond.
    const due = value.timestamp - lastUs > EVERY_US * 0.8;
    if (watched && due && (encoder?.encodeQueueSize ?? 0) < MOST_WAITING) {
      encoder ??= made();
      const now = performance.now();
      const keyFrame = now >= keyDueAt;
      if (keyFrame) keyDueAt = now + KEY_EVERY_MS;
      lastUs = value.timestamp;
      encoder.encode(value, { keyFrame });
    }
    value.close();
  }
}

self.onmessage = ({ data }: MessageEvent<ToReturn>) => {
  if (data.type === 'begin') read(data.frames).catch(() => undefined);
  else if (data.type === 'key') keyDueAt = 0;
  else {
    watched = data.yes;
    if (watched || !encoder) return;
    encoder.close();
    encoder = null;
  }
};

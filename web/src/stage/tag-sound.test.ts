// When sound that comes as tags is heard, with a decoder as browsers have it: it counts time on from the first that it is given.
import { TagSound } from './tag-sound';

const HEAD = { kind: 'audio' as const, timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x11, 0x90) };
const FRAME_MS = 1024 / 48;

/** Decodes when it is told to. */
class Decoder {
  static all: Decoder[] = [];
  state = 'configured';
  private waiting = 0;
  private nextUs: number | null = null;
  constructor(private readonly to: { output: (sound: object) => void }) {
    Decoder.all.push(this);
  }
  get decodeQueueSize(): number {
    return this.waiting;
  }
  configure(): void {}
  decode({ timestamp }: { timestamp: number }): void {
    this.nextUs ??= timestamp;
    this.waiting += 1;
  }
  close(): void {
    this.state = 'closed';
    this.waiting = 0;
  }
  work(): void {
    for (; this.waiting; this.waiting--) {
      const sound = { timestamp: this.nextUs!, numberOfChannels: 1, numberOfFrames: 1024, sampleRate: 48_000, copyTo: () => undefined, close: () => undefined };
      this.to.output(sound);
      this.nextUs! += FRAME_MS * 1_000;
    }
  }
}

let heard: number[];
let sound: TagSound;

beforeEach(() => {
  Decoder.all = [];
  heard = [];
  Object.assign(globalThis, { AudioDecoder: Decoder, EncodedAudioChunk: class { constructor(facts: object) { Object.assign(this, facts); } } }); // prettier-ignore
  const now = performance.now();
  const buffer = { duration: FRAME_MS / 1_000, getChannelData: () => new Float32Array(1024) };
  const context = {
    ...{ state: 'running', currentTime: 100, createBuffer: () => buffer },
    createBufferSource: () => ({ connect: () => undefined, stop: () => undefined, start: (at: number) => void heard.push((at - 100) * 1_000) }),
  };
  jest.spyOn(performance, 'now').mockReturnValue(now);
  // What is of 0 is due in 150 ms.
  sound = new TagSound(context as never, { due: (mediaMs) => now + mediaMs + 150 }, {} as never);
  sound.take(HEAD);
});
afterEach(() => void jest.restoreAllMocks());

const give = (from: number, count: number) => {
  for (let at = from; at < from + count; at++) sound.take({ kind: 'audio', timestampMs: Math.round(at * FRAME_MS), data: Uint8Array.of(0xaf, 1, 1, 2, 3) });
};
const work = () => Decoder.all.filter(({ state }) => state !== 'closed').forEach((decoder) => decoder.work());

test('what comes is heard when it is due', () => {
  give(0, 3);
  work();
  expect(heard).toEqual([150, 150 + FRAME_MS, 150 + 2 * FRAME_MS].map((ms) => expect.closeTo(ms, 0)));
  expect(Decoder.all).toHaveLength(1);
});

test('a browser that does not keep up for a while leaves sound out, and what comes afterwards is heard when it is due', () => {
  // Two seconds and a half, of which nothing is decoded meanwhile.
  give(0, 120);
  work();
  heard = [];
  give(120, 2);
  work();
  expect(heard).toEqual([120, 121].map((at) => expect.closeTo(150 + at * FRAME_MS, 0)));
});

test('where something is missing on the way, what follows is heard when it is due', () => {
  give(0, 3);
  work();
  heard = [];
  give(50, 2);
  work();
  expect(heard).toEqual([50, 51].map((at) => expect.closeTo(150 + at * FRAME_MS, 0)));
});

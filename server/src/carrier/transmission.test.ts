// One show as the air process carries it, on a clock of the test's: what viewers get of which source, and what is kept. Nothing is
// encoded here: pictures are tags that carry the number of their source.
import { FlvReader, flvHeader, flvTagBytes, holesOf, isKeyFrame, isSequenceHeader, type FlvTag, type PartNote } from '@lantern/core';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { CarryOrder } from '../air-wire/messages';
import type { OutsideFeed } from './outside-lines';
import { Transmission } from './transmission';

const HALL = '6f1f3c54-0d0e-4a1a-9df7-0f6f7e7b0c11';
const FOYER = '6f1f3c54-0d0e-4a1a-9df7-0f6f7e7b0c12';
const CARD = 9;
const FRAME_MS = 40;

let folder = '';
let show: Transmission;
let out: FlvTag[];
let changes = 0;
/** How hand-overs have ended: why not, or to whom. */
let handed: string[] = [];

const heads = (of: number): FlvTag[] => [
  { kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 0, 0, 0, 0, of) },
  { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x11, of) },
];
const picture = (of: number, timestampMs: number, key: boolean): FlvTag => ({
  kind: 'video',
  timestampMs,
  data: Uint8Array.of(key ? 0x17 : 0x27, 1, 0, 0, 0, of),
});
const sourceOf = ({ data }: FlvTag): number => data[data.length - 1]!;

/** A line on which a picture comes every 40 ms of the test's time, a key frame each second. */
class Line implements OutsideFeed {
  readonly stationId = 'station';
  private count = 0;
  constructor(
    readonly of: number,
    readonly lineId: string,
  ) {}
  heads = () => heads(this.of);
  send(): void {
    const at = this.count++;
    show.hearOutside(this, picture(this.of, at * FRAME_MS, at % 25 === 0));
    show.hearOutside(this, { kind: 'audio', timestampMs: at * FRAME_MS, data: Uint8Array.of(0xaf, 1, this.of) });
  }
}

async function pass(ms: number, ...lines: Line[]): Promise<void> {
  for (let gone = 0; gone < ms; gone += FRAME_MS) {
    for (const line of lines) line.send();
    await jest.advanceTimersByTimeAsync(FRAME_MS);
  }
}

/** A card of one second, as it lies on the disk. */
function card(of: number, name: string): string {
  const tags = [...heads(of), ...Array.from({ length: 25 }, (_, at) => picture(of, at * FRAME_MS, at === 0))];
  writeFileSync(join(folder, name), Buffer.concat([flvHeader(), ...tags.map((tag) => flvTagBytes(tag))]));
  return join(folder, name);
}

function order(change: Partial<CarryOrder> = {}): CarryOrder {
  return {
    ...{
      showId: '6f1f3c54-0d0e-4a1a-9df7-0f6f7e7b0c10',
      stationId: 'station',
      slug: 'dusk',
      open: true,
      onAirSince: Date.now(),
      recordedMs: 0,
      airingIds: [],
      farEnd: false,
    },
    ...{ base: `line:${HALL}`, chosen: `line:${HALL}`, scene: 'holding', ran: [], lineOnStage: null, backAt: null, cardPath: null, musicPath: null },
    holder: { personId: 'maren', name: 'Maren Tolliver', tab: null },
    ...change,
  };
}

async function carry(change: Partial<CarryOrder> = {}, ffmpeg = '/bin/false'): Promise<void> {
  const begunAt = Date.now();
  changes = 0;
  handed = [];
  show = new Transmission(order(change), {
    // What is packed for the house page has its own tests; a program that ends at once is one that is begun anew.
    settings: { recordingsDir: join(folder, 'recordings'), liveDir: join(folder, 'live'), ffmpeg, privateTargets: true },
    now: () => Date.now(),
    steadyNow: () => Date.now() - begunAt,
    line: () => Promise.reject(new Error('nothing is sent here')),
    changed: () => (changes += 1),
    stretchBroke: () => undefined,
    handedOver: (_showId, { to }, ended) => void handed.push(ended ?? to.person.name),
  });
  const reader = new FlvReader();
  out = [];
  show.programme.read((bytes) => out.push(...reader.push(bytes)));
  await show.useCard(card(CARD, 'card.flv'), null);
}

/** By what viewers have had since, one number for each source in order. */
const seen = (since = 0): number[] => {
  const pictures = out.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag) && tag.timestampMs >= since).map(sourceOf);
  return pictures.filter((of, at) => of !== pictures[at - 1]);
};

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-transmission-'));
  jest.useFakeTimers({ doNotFake: ['nextTick', 'setImmediate'], now: Date.UTC(2026, 10, 26, 20, 30) });
});
afterEach(async () => {
  jest.useRealTimers();
  await show.close();
  rmSync(folder, { recursive: true, force: true });
});

test('a line that falls silent makes way for the card, and comes back once it is steady; viewers never wait for a picture', async () => {
  await carry();
  const hall = new Line(1, HALL);
  await pass(3_000, hall);
  expect(show.state()).toMatchObject({ source: `line:${HALL}`, reason: 'chosen', aloneSince: null });
  await pass(4_000);
  expect(show.state()).toMatchObject({ source: 'break card', reason: 'silent' });
  await pass(1_000, hall);
  expect(show.state()).toMatchObject({ source: 'break card', reason: 'not steady yet' });
  await pass(2_000, hall);
  expect(show.state()).toMatchObject({ source: `line:${HALL}`, cardSince: null });
  expect(seen()).toEqual([1, CARD, 1]);
  const times = out.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag)).map(({ timestampMs }) => timestampMs);
  // What was missed is how long nobody could know that it had fallen silent.
  expect(Math.max(...times.slice(1).map((at, index) => at - times[index]!))).toBeLessThanOrEqual(1_500 + 2 * FRAME_MS);
  // Each change begins whole: configuration, then a key frame.
  out.forEach((tag, at) => {
    const before = out.slice(0, at).findLast((each) => each.kind === 'video' && !isSequenceHeader(each));
    if (tag.kind === 'video' && !isSequenceHeader(tag) && (!before || sourceOf(before) !== sourceOf(tag))) expect(isKeyFrame(tag)).toBe(true);
  });
});

test('a line that nobody chose changes nothing; chosen, it is on at its next key frame, and a break goes back to it', async () => {
  await carry();
  const [hall, foyer] = [new Line(1, HALL), new Line(2, FOYER)];
  await pass(3_000, hall, foyer);
  expect(seen()).toEqual([1]);
  expect(show.wants(FOYER)).toBe(false);
  show.choose(`line:${FOYER}`, null);
  await pass(2_000, hall, foyer);
  expect(seen()).toEqual([1, 2]);
  show.choose('break card', Date.now() + 60_000);
  await pass(1_000, hall, foyer);
  // Pressed a second time, with another end: what comes after the break is what was before it.
  show.choose('break card', null);
  expect(show.state()).toMatchObject({ chosen: 'break card', backAt: null });
  expect(show.wants(FOYER)).toBe(true);
  show.resume();
  show.resume();
  await pass(3_000, hall, foyer);
  expect(seen()).toEqual([1, 2, CARD, 2]);
  expect(show.state()).toMatchObject({ chosen: `line:${FOYER}`, source: `line:${FOYER}` });
});

test('an encoder that connects once more while its old connection still lingers is followed at once, without the card', async () => {
  await carry();
  const [before, after] = [new Line(1, HALL), new Line(3, HALL)];
  await pass(3_000, before);
  await pass(1_000, after, before);
  show.outsideGone(before);
  await pass(3_000, after);
  expect(seen()).toEqual([1, 3]);
  show.outsideGone(after);
  await pass(500);
  // It is known to be gone: nobody waits to see that.
  expect(seen()).toEqual([1, 3, CARD]);
});

test('the recording is what viewers get, from the first picture on; a process that is started anew writes beside what was there', async () => {
  await carry();
  await pass(2_000);
  // Nothing has come: a recording does not begin with a card.
  expect(show.state().recordedMs).toBe(0);
  await pass(2_000, new Line(1, HALL));
  const { recordedMs } = show.state();
  expect(recordedMs).toBeGreaterThan(1_800);
  expect(recordedMs).toBeLessThan(2_200);
  jest.useRealTimers();
  await Promise.all([show.close(), show.close()]);
  const recordings = join(folder, 'recordings');
  const parts = () => readdirSync(recordings, { recursive: true }).filter((name) => /programme-\d+\.flv$/.test(String(name))) as string[];
  const kept = new FlvReader().push(readFileSync(join(recordings, parts()[0]!))).filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag));
  expect(new Set(kept.map(sourceOf))).toEqual(new Set([1]));
  jest.useFakeTimers({ doNotFake: ['nextTick', 'setImmediate'], now: Date.now() });
  await carry({ recordedMs });
  await pass(1_000, new Line(1, HALL));
  expect(show.state().recordedMs).toBeGreaterThan(recordedMs + 700);
  jest.useRealTimers();
  await show.close();
  expect(parts()).toHaveLength(2);
});

test('whose stage it is: one tab, its line broken for a while, somebody’s press; and since when nobody has been there', async () => {
  await carry({ base: 'stage', chosen: 'stage', holder: { personId: 'maren', name: 'Maren Tolliver', tab: 'desk' } });
  const began = Date.now();
  expect(show.state()).toMatchObject({ connected: false, aloneSince: began });
  const maren = { id: 'maren', name: 'Maren Tolliver' };
  expect(show.stageEvent({ type: 'opened', person: { id: 'ines', name: 'Ines Calder' }, tab: 'other' }).sends).toBe(false);
  expect(show.stageEvent({ type: 'opened', person: maren, tab: 'desk' }).sends).toBe(true);
  expect(show.state()).toMatchObject({ connected: true, aloneSince: null });
  show.switchMicrophone(false);
  await pass(1_000);
  show.stageEvent({ type: 'closed', tab: 'desk' });
  expect(show.state()).toMatchObject({ connected: false, aloneSince: began + 1_000, microphoneOn: false });
  expect(show.stageEvent({ type: 'taken', person: { id: 'ines', name: 'Ines Calder' }, tab: 'other' }).sends).toBe(true);
  // Somebody else’s microphone is theirs to switch.
  expect(show.state()).toMatchObject({ connected: true, microphoneOn: true, holder: { personId: 'ines', tab: 'other' } });
  const before = changes;
  show.bring(HALL);
  expect([show.state().lineOnStage, changes]).toEqual([HALL, before + 1]);
});

test('a card that cannot be read leaves the one before; a new one comes on without a gap', async () => {
  await carry();
  show.choose('break card', null);
  await pass(2_000);
  expect(seen()).toEqual([CARD]);
  writeFileSync(join(folder, 'broken.flv'), 'this is no picture');
  await show.useCard(join(folder, 'broken.flv'), null);
  await show.useCard(join(folder, 'not-there.flv'), null);
  await pass(500);
  await show.useCard(card(8, 'other.flv'), null);
  await pass(2_000);
  expect(seen()).toEqual([CARD, 8]);
  const times = out.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag)).map(({ timestampMs }) => timestampMs);
  expect(Math.max(...times.slice(1).map((at, index) => at - times[index]!))).toBeLessThan(200);
});

// ---- handing the stage over: what comes from a stage is FLV already here, and its converter passes it on

const MAREN = { person: { id: 'maren', name: 'Maren Tolliver' }, tab: 'tab-of-maren' };
const BEA = { person: { id: 'bea', name: 'Bea Lorne' }, tab: 'tab-of-bea' };

class StageLine {
  private count = 0;
  constructor(
    readonly of: number,
    private readonly stretch: ReturnType<Transmission['beginStretch']>,
  ) {
    this.take(flvHeader(), ...heads(of).map((tag) => flvTagBytes(tag)));
  }
  /** One more picture; resolves once it has come through. */
  async send(): Promise<void> {
    const at = this.count++;
    const fed = jest.spyOn(show.programme, 'feed');
    this.take(flvTagBytes(picture(this.of, at * FRAME_MS, at % 25 === 0)));
    const came = () => fed.mock.calls.some(([input, tag]) => input === this.stretch.input && tag.timestampMs === at * FRAME_MS && !isSequenceHeader(tag));
    for (let tries = 0; tries < 20_000 && !came(); tries++) await new Promise((next) => setImmediate(next));
    fed.mockRestore();
  }
  private take(...bytes: Uint8Array[]): void {
    this.stretch.take(Buffer.concat(bytes), Date.now(), () => undefined);
  }
}

async function passOn(ms: number, ...lines: StageLine[]): Promise<void> {
  for (let gone = 0; gone < ms; gone += FRAME_MS) {
    for (const line of lines) await line.send();
    await jest.advanceTimersByTimeAsync(FRAME_MS);
  }
}

/** On air from Maren's stage. */
async function marenSends(): Promise<StageLine> {
  const passesOn = join(folder, 'passes-on');
  writeFileSync(passesOn, '#!/bin/sh\nexec cat\n');
  chmodSync(passesOn, 0o755);
  await carry({ base: 'stage', chosen: 'stage', holder: { personId: 'maren', name: 'Maren Tolliver', tab: MAREN.tab } }, passesOn);
  show.stageEvent({ type: 'opened', ...MAREN });
  const line = new StageLine(1, show.beginStretch());
  await passOn(1_500, line);
  return line;
}

test('the stage is handed over: the first stays on until the other’s picture is steady, and viewers see neither gap nor card', async () => {
  const first = await marenSends();
  show.handOverEvent({ type: 'asked', from: MAREN, to: BEA });
  expect(show.takesOver(BEA.tab)).toBe(false);
  show.handOverEvent({ type: 'agreed', tab: MAREN.tab });
  const coming = show.beginComing();
  expect(show.stretchNumbered(coming.number, BEA.tab)).toBe(coming);
  expect(show.stretchNumbered(coming.number, MAREN.tab)).toBeNull();
  const second = new StageLine(2, coming);
  await passOn(1_000, first, second);
  expect([seen(), handed, show.holder.person.name]).toEqual([[1], [], 'Maren Tolliver']);
  await passOn(1_500, first, second);
  expect([seen(), handed, show.holder]).toEqual([[1, 2], ['Bea Lorne'], { ...BEA, connected: true }]);
  // What the first still sends is nobody's.
  await passOn(1_000, second);
  expect(seen()).toEqual([1, 2]);
  expect(show.state()).toMatchObject({ source: 'stage', cardSince: null });
  const times = out.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag)).map(({ timestampMs }) => timestampMs);
  expect(Math.max(...times.slice(1).map((at, index) => at - times[index]!))).toBeLessThan(150);
});

test.each<[string, string, () => void]>([
  ['the holder keeps it after all', 'kept', () => void show.handOverEvent({ type: 'declined', tab: MAREN.tab })],
  ['the taker’s line breaks', 'gone', () => void show.handOverEvent({ type: 'gone', tab: BEA.tab })],
  ['somebody takes the stage meanwhile', 'taken', () => void show.stageEvent({ type: 'taken', person: MAREN.person, tab: 'another tab of maren' })],
])('%s: the other’s picture is never seen', async (_, ended, happens) => {
  const first = await marenSends();
  show.handOverEvent({ type: 'offered', from: MAREN, to: BEA });
  show.handOverEvent({ type: 'agreed', tab: BEA.tab });
  const coming = show.beginComing();
  const second = new StageLine(2, coming);
  // Ready, and on at its next key frame: in the last moment.
  await passOn(1_480, first, second);
  happens();
  await passOn(1_200, first);
  expect([seen(), handed]).toEqual([[1], [ended]]);
  expect(show.stretchNumbered(coming.number, BEA.tab)).toBeNull();
});

test('both have agreed and nothing comes, or nobody answers: it ends by itself', async () => {
  const first = await marenSends();
  show.handOverEvent({ type: 'asked', from: MAREN, to: BEA });
  show.handOverEvent({ type: 'agreed', tab: MAREN.tab });
  await passOn(400, first);
  await jest.advanceTimersByTimeAsync(26_000);
  expect(handed).toEqual(['no picture']);
  show.handOverEvent({ type: 'asked', from: MAREN, to: BEA });
  await jest.advanceTimersByTimeAsync(61_000);
  expect(handed).toEqual(['no picture', 'unanswered']);
});

/** What was noted of what is in the programme, once it is on the disk. */
async function notes(): Promise<PartNote[]> {
  jest.useRealTimers();
  await show.close();
  const recordings = join(folder, 'recordings');
  const [file] = (readdirSync(recordings, { recursive: true }) as string[]).filter((name) => name.endsWith('.parts'));
  return readFileSync(join(recordings, file!), 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as PartNote);
}

test('what was in the programme when is noted beside it: a line that is lost leaves a hole, and a break that was chosen none', async () => {
  const first = await marenSends();
  await passOn(4_000);
  await passOn(4_000, first);
  show.choose('break card', null);
  await passOn(3_000, first);
  show.resume();
  await passOn(1_500, first);
  const [hole, ...others] = holesOf(await notes());
  expect(others).toEqual([]);
  expect(hole).toMatchObject({ joinsOn: true, before: { stretch: 1 }, after: { stretch: 1 } });
  // Noticed 1.5 s after the last picture, and back two seconds after the first, at a key frame.
  expect(hole!.fromMs).toBeGreaterThan(2_900);
  expect(hole!.fromMs).toBeLessThan(3_300);
  expect(hole!.toMs! - hole!.fromMs).toBeGreaterThan(4_000);
  expect(hole!.toMs! - hole!.fromMs).toBeLessThan(6_000);
});

test('what is lost while a break goes on is a hole only from the press that ends it', async () => {
  await marenSends();
  show.choose('break card', null);
  await passOn(5_000);
  show.resume();
  await passOn(2_000);
  const [hole] = holesOf(await notes());
  expect(hole).toMatchObject({ joinsOn: false, before: { stretch: 1 }, after: null });
  expect(hole!.fromMs).toBeGreaterThan(6_300);
});

test('what is prepared by somebody who takes the stage over is kept out, and is in once it has come on', async () => {
  const first = await marenSends();
  show.handOverEvent({ type: 'asked', from: MAREN, to: BEA });
  show.handOverEvent({ type: 'agreed', tab: MAREN.tab });
  const second = new StageLine(2, show.beginComing());
  await passOn(2_500, first, second);
  const noted = await notes();
  expect(noted).toContainEqual({ keptOut: 2 });
  expect(noted.at(-1)).toMatchObject({ stretch: 2, lost: false });
});

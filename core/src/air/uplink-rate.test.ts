import { PICTURE_KBPS, sayUplink, UplinkRate } from './uplink-rate';

const SOUND = 128;

/** A line that takes so much, with a queue before it, and a picture that is as large as it may be. */
class Line {
  readonly rate = new UplinkRate();
  /** What waits, in kbit. */
  private waits = 0;
  readonly sent: number[] = [];
  longestWaitMs = 0;

  pass(seconds: number, takes: number): this {
    for (let second = 0; second < seconds; second++) {
      const made = this.rate.verdict.pictureKbps + SOUND;
      const confirmed = Math.min(takes, this.waits + made);
      this.waits += made - confirmed;
      const waitsMs = this.waits === 0 ? 0 : (this.waits / Math.max(1, takes)) * 1_000;
      this.longestWaitMs = Math.max(this.longestWaitMs, waitsMs);
      this.sent.push(this.rate.hear({ connected: true, confirmedKbps: confirmed, waitsMs }).pictureKbps);
    }
    return this;
  }
}

test('a line that takes all: nothing ever changes', () => {
  expect(new Set(new Line().pass(600, 10_000).sent)).toEqual(new Set([2_500]));
});

test.each([
  [2_000, 1_200],
  [1_600, 1_200],
  [1_300, 900],
  [1_000, 600],
  [800, 600],
])('a line of %d kbit/s: the picture goes down to %d at once, and the queue drains', (takes, pictureKbps) => {
  const line = new Line().pass(5, 10_000).pass(18, takes);
  expect(line.rate.verdict).toMatchObject({ pictureKbps, tooSlow: false });
  expect(line.rate.verdict.givesKbps).toBeGreaterThan(takes * 0.8);
  expect(line.sent.indexOf(pictureKbps)).toBeLessThan(14);
  // In one go: each change begins the recording anew.
  expect(new Set(line.sent).size).toBe(2);
});

test('a line that takes nothing worth while is called too slow, and no more once it takes more', () => {
  const line = new Line().pass(60, 300);
  expect(line.rate.verdict).toMatchObject({ pictureKbps: 600, tooSlow: true });
  expect(sayUplink(line.rate.verdict)).toMatch(/^Your line gives about 0\.3 Mbit\/s: too little/);
  expect(line.pass(200, 10_000).rate.verdict.tooSlow).toBe(false);
});

test('it goes up again by steps, some twenty seconds each, up to all', () => {
  const line = new Line().pass(30, 800);
  line.sent.length = 0;
  line.pass(130, 10_000);
  expect([...new Set(line.sent)]).toEqual([600, 900, 1_200, 1_800, 2_500]);
  expect(sayUplink(line.rate.verdict)).toBe('');
});

test('what was too much is tried again ever more seldom', () => {
  const line = new Line().pass(30, 1_200);
  /** How often 1,200 is tried, which with its sound is more than the line takes. */
  const tries = (seconds: number) => {
    line.sent.length = 0;
    line.pass(seconds, 1_200);
    return line.sent.filter((kbps, at) => at > 0 && kbps === 1_200 && line.sent[at - 1] !== 1_200).length;
  };
  expect(tries(180)).toBeGreaterThanOrEqual(2);
  tries(420);
  expect(tries(600)).toBeLessThanOrEqual(3);
  // What it does take is kept meanwhile.
  expect(line.sent.filter((kbps) => kbps === 900).length).toBeGreaterThan(400);
});

test('a hiccup of a second changes nothing, nor does a broken line', () => {
  const rate = new UplinkRate();
  const good = { connected: true, confirmedKbps: 2_600, waitsMs: 100 };
  for (let at = 0; at < 10; at++) rate.hear(good);
  rate.hear({ ...good, waitsMs: 1_900 });
  expect(rate.hear(good).pictureKbps).toBe(2_500);
  for (let at = 0; at < 60; at++) rate.hear({ connected: false, confirmedKbps: 0, waitsMs: 60_000 });
  // What piled up is taken within a moment of its coming back.
  expect(rate.hear({ connected: true, confirmedKbps: 9_000, waitsMs: 2_000 }).pictureKbps).toBe(2_500);
});

test('a line on which nothing comes through at all is no thin line', () => {
  const rate = new UplinkRate();
  for (let at = 0; at < 10; at++) rate.hear({ connected: true, confirmedKbps: 2_600, waitsMs: 100 });
  for (let at = 1; at < 30; at++)
    expect(rate.hear({ connected: true, confirmedKbps: 0, waitsMs: at * 1_000 })).toMatchObject({ pictureKbps: 2_500, givesKbps: null });
});

test('what is said names what the line gives, what follows, and what stays as it is', () => {
  expect(sayUplink({ pictureKbps: 900, givesKbps: 1_260, tooSlow: false })).toBe(
    'Your line gives about 1.3 Mbit/s, so the picture goes out with less than it could, and with more again once the line takes it. Sound is as good as before.',
  );
  expect(sayUplink({ pictureKbps: PICTURE_KBPS[0], givesKbps: 1_260, tooSlow: false })).toBe('');
});

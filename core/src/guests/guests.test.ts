import { murmurAt } from '../sound/murmur';
import { GuestLineWatch, judgedLine, sayGuestLine, type GuestLineFacts } from './connection';
import { EchoWatch, ECHO_EVERY_MS } from './echo';
import { guestPlace, standingOf, type InProgramme } from './places';
import { VoiceFollow } from './voice';

const IN: InProgramme = { broughtIn: true, onScene: true, onNext: false };

test.each<[Partial<InProgramme>, 'public' | 'recorded' | 'nowhere', string]>([
  [{}, 'public', 'on air'],
  [{}, 'recorded', 'recorded'],
  [{}, 'nowhere', 'next'],
  [{ onScene: false, onNext: true }, 'public', 'next'],
  [{ onScene: false }, 'public', 'unheard'],
  [{ broughtIn: false }, 'public', 'unheard'],
  [{ broughtIn: false, onNext: true }, 'public', 'unheard'],
])('a guest of whom the programme says %j, where it goes %s, is told: %s', (part, out, place) => {
  expect(guestPlace({ ...IN, ...part }, out)).toBe(place);
});

test('where somebody stands: there before all else; who has said no is not taken for gone', () => {
  expect(standingOf('asked', false, null)).toBe('asked');
  expect(standingOf('accepted', true, null)).toBe('tried out');
  expect(standingOf('declined', true, 'gone')).toBe('declined');
  expect(standingOf('declined', false, 'green room')).toBe('green room');
  expect(standingOf('accepted', true, 'gone')).toBe('gone');
});

const LINE: GuestLineFacts = { picture: { kbps: 700, fps: 29, height: 360 }, soundLost: 0, uplinkKbps: 1_800, roundTripMs: 40, connected: true };

test.each<[Partial<GuestLineFacts>, string]>([
  [{}, 'good'],
  [{ picture: { kbps: 90, fps: 24, height: 180 } }, 'thin picture'],
  [{ picture: { kbps: 400, fps: 4, height: 360 } }, 'thin picture'],
  [{ picture: { kbps: 0, fps: 0, height: 0 } }, 'no picture'],
  [{ picture: null }, 'good'],
  [{ soundLost: 0.2, picture: { kbps: 0, fps: 0, height: 0 } }, 'broken sound'],
  [{ roundTripMs: 900 }, 'slow'],
  [{ connected: false, soundLost: 0.5 }, 'gone'],
])('a line of which %j is measured is %s', (part, verdict) => {
  expect(judgedLine({ ...LINE, ...part })).toBe(verdict);
});

test('a verdict is said once it has lasted, and taken back as slowly; that somebody is gone, and back, at once', () => {
  const watch = new GuestLineWatch();
  const thin = { ...LINE, picture: { kbps: 60, fps: 20, height: 180 } };
  expect([thin, LINE, thin, thin, thin, LINE, LINE, LINE].map((facts) => watch.hear(facts))).toEqual([
    ...['good', 'good', 'good', 'good', 'thin picture', 'thin picture', 'thin picture', 'good'],
  ]);
  expect([{ ...LINE, connected: false }, LINE].map((facts) => watch.hear(facts))).toEqual(['gone', 'good']);
  expect(sayGuestLine('thin picture', 'Juno', { uplinkKbps: 400 })).toContain('the uplink there gives 0.4 Mbit/s');
  expect(sayGuestLine('good', 'Juno', { uplinkKbps: 400 })).toBe('');
});

/** Speech as it is loud from moment to moment, in dB; `from`: where in it one begins, in s. */
const speech = (at: number, from: number): number => 20 * Math.log10(Math.max(1e-4, murmurAt(((at * ECHO_EVERY_MS) / 1_000 + from) % 12) * 0.2));

function heard(seconds: number, came: (at: number, sent: (at: number) => number) => number): boolean {
  const watch = new EchoWatch();
  const sent = (at: number) => speech(at, 0);
  let found = false;
  for (let at = 0; at < (seconds * 1_000) / ECHO_EVERY_MS; at++) found = watch.hear(sent(at), came(at, sent));
  return found;
}

test('an echo is what was sent, later and quieter; somebody who speaks, or is silent, is none', () => {
  expect(heard(20, (at, sent) => Math.max(-70, sent(Math.max(0, at - 4)) - 22))).toBe(true);
  expect(heard(20, () => -75)).toBe(false);
  expect(heard(20, (at) => speech(at, 5.3))).toBe(false);
});

test('an echo that stops is taken back', () => {
  const watch = new EchoWatch();
  const feed = (from: number, seconds: number, came: (at: number) => number) => {
    let said = false;
    for (let at = from; at < from + (seconds * 1_000) / ECHO_EVERY_MS; at++) said = watch.hear(speech(at, 0), came(at));
    return said;
  };
  expect(feed(0, 20, (at) => speech(Math.max(0, at - 3), 0) - 20)).toBe(true);
  expect(feed(250, 20, () => -75)).toBe(false);
});

describe('a seat that follows the voice', () => {
  const quiet = -70;
  function stands(said: (ms: number) => { host: number; guest?: number }, seconds: number): (string | null)[] {
    const follow = new VoiceFollow<'host' | 'guest'>();
    const all: (string | null)[] = [];
    for (let ms = 0; ms < seconds * 1_000; ms += 100) {
      const { host, guest } = said(ms);
      all.push(follow.hear([{ who: 'host', db: host }, ...(guest === undefined ? [] : [{ who: 'guest' as const, db: guest }])], ms));
    }
    return all;
  }

  test('goes to whoever speaks for a while', () => {
    const all = stands((ms) => (ms < 3_000 ? { host: -20, guest: quiet } : { host: quiet, guest: -22 }), 6);
    expect(all[29]).toBe('host');
    expect(all.indexOf('guest')).toBeGreaterThanOrEqual(37);
    expect(all.indexOf('guest')).toBeLessThanOrEqual(39);
  });

  test('a cough changes nothing', () => {
    const all = stands((ms) => ({ host: ms % 1_000 < 600 ? -20 : quiet, guest: ms >= 4_000 && ms < 4_300 ? -10 : quiet }), 8);
    expect(new Set(all)).toEqual(new Set(['host']));
  });

  test('two who speak over each other do not make it flicker', () => {
    const all = stands((ms) => ({ host: ms % 400 < 200 ? -18 : -24, guest: ms % 400 < 200 ? -24 : -18 }), 20);
    const changes = all.filter((who, at) => at > 0 && who !== all[at - 1]).length;
    expect(changes).toBeLessThanOrEqual(10);
  });

  test('whoever is taken off, or muted, stands there no more', () => {
    const all = stands((ms) => (ms < 3_000 ? { host: quiet, guest: -20 } : { host: quiet }), 4);
    expect(all[29]).toBe('guest');
    expect(all[31]).toBe('host');
  });
});

test('a picture that comes in jerks on a line that would give more is no fault of the line', () => {
  expect(sayGuestLine('thin picture', 'Juno Hartsel', { uplinkKbps: 400 })).toMatch(/the uplink there gives 0\.4 Mbit\/s.*router/);
  expect(sayGuestLine('thin picture', 'Juno Hartsel', { uplinkKbps: 5_500 })).toMatch(/short of time/);
  expect(sayGuestLine('thin picture', 'Juno Hartsel', { uplinkKbps: 5_500 })).not.toContain('router');
});

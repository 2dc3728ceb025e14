// What it costs to look for clashes over a station's whole plan, and to check a show against the rules of
// its channels as one types. Prints a table; passes whatever the figures are. Aims stand beside them.
import { checkShow, clashesOf, DAY_MS, findClashes, HOUR_MS, instant, MINUTE_MS, rulesFor, type LinePlan, type LineUse, type ShowFacts } from '@lantern/core';
import { test } from '@playwright/test';

const NOW = instant(Date.UTC(2026, 10, 24, 18));
const CHANNELS = 12;
const LINES = 40;

/** A repeatable number in [0, 1) (mulberry32). */
function dice(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** `count` coming occurrences on the channels and lines of one station, as dense as a busy one plans them: about one in fifty clashes. */
function planOf(count: number): LinePlan {
  const roll = dice(count);
  const lines = Array.from({ length: LINES }, (_, at) => ({ id: `l${at}`, channelId: `c${at % CHANNELS}`, singleUse: false }));
  const span = (count / LINES) * 10 * HOUR_MS;
  const uses = Array.from({ length: count }, (_, at): LineUse => {
    const line = lines[Math.floor(roll() * LINES)]!;
    const startsAt = instant(NOW + Math.floor((roll() * span) / (5 * MINUTE_MS)) * 5 * MINUTE_MS);
    return { airingId: `a${at}`, showId: `s${at}`, channelId: line.channelId, lineId: line.id, startsAt, lengthMs: 5 * MINUTE_MS, onAir: false, stands: true };
  });
  return { uses, lines, channels: Array.from({ length: CHANNELS }, (_, at) => ({ id: `c${at}`, severalAtOnce: at % 3 > 0, startGridMs: 5 * MINUTE_MS })) };
}

/** The median of `runs` runs after a few to warm up, in ms. */
function medianMs(runs: number, work: () => void): number {
  for (let warm = 0; warm < 3; warm++) work();
  const times = Array.from({ length: runs }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)]!;
}

test('clashes and rule checks', () => {
  const rows: { what: string; figure: string; aim: string }[] = [];
  const times = [1_000, 5_000, 25_000].map((count) => {
    const plan = planOf(count);
    const clashes = findClashes(plan, NOW);
    const ms = medianMs(9, () => findClashes(plan, NOW));
    rows.push({
      what: `clashes among ${count.toLocaleString('en-GB')} occurrences, ${CHANNELS} channels, ${LINES} lines (${clashes.length} found)`,
      figure: `${ms.toFixed(1)} ms`,
      aim: count === 5_000 ? 'under 50 ms' : '',
    });
    return { count, ms };
  });
  const perStep = (n: { count: number; ms: number }) => n.ms / (n.count * Math.log2(n.count));
  rows.push({
    what: 'time per n log n: 5,000 to 1,000, and 25,000 to 5,000',
    figure: `${(perStep(times[1]!) / perStep(times[0]!)).toFixed(2)}, ${(perStep(times[2]!) / perStep(times[1]!)).toFixed(2)}`,
    aim: 'about 1',
  });
  const plan = planOf(5_000);
  const all = findClashes(plan, NOW);
  rows.push({
    what: 'the clashes of one show, while its sheet is typed: all found anew, one show’s picked',
    figure: `${medianMs(9, () => clashesOf('s7', findClashes(plan, NOW))).toFixed(1)} ms`,
    aim: `under 50 ms (${all.length} in all)`,
  });
  const show: ShowFacts = {
    title: 'Dusk Report '.repeat(9),
    description: `${'What to look for tonight from the fell. '.repeat(60)}https://alderfell.example/tonight`,
    startsAt: instant(NOW + 3 * DAY_MS + MINUTE_MS),
    lengthMs: 5 * HOUR_MS,
    thumbnail: { width: 1280, height: 720 },
    thumbnailAlternative: '',
    placedAt: null,
  };
  const sheets = [
    rulesFor('reelmoor', 'library channel'),
    rulesFor('townfold', 'page'),
    rulesFor('townfold', 'group'),
    rulesFor('guildhand', 'organisation'),
    rulesFor('pipwire', 'handle'),
    rulesFor('typed-in', 'service'),
  ];
  const checks = medianMs(201, () => sheets.forEach((rules) => checkShow(show, rules, NOW)));
  rows.push({ what: 'rule checks of one show with a long text on 6 channels', figure: `${checks.toFixed(2)} ms`, aim: 'under 1 ms' });
  console.table(rows);
});

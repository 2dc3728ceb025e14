// What it costs to work out a long evening anew, which a sheet does at each key press. Prints a figure; passes whatever it is.
import { runningOrderTimes, type Cue, instant } from '@lantern/core';
import { test } from '@playwright/test';

test('a running order of 300 cues, worked out anew', () => {
  const cues = Array.from({ length: 300 }, (_, at): Cue => ({
    ...{ id: `c${at}`, name: `Cue ${at}`, lengthS: 90 + (at % 7) * 30, who: '', notes: '' },
    hardAt: at % 40 === 39 ? `${String(((at / 40 + 20) % 24) | 0).padStart(2, '0')}:30:09` : null,
  }));
  const evening = { startsAt: instant(Date.UTC(2026, 11, 17, 20, 0)), endsAt: instant(Date.UTC(2026, 11, 18, 8, 0)), zone: 'Europe/Dublin' };
  const times: number[] = [];
  for (let round = 0; round < 500; round++) {
    const began = performance.now();
    runningOrderTimes(cues, evening);
    times.push(performance.now() - began);
  }
  times.sort((a, b) => a - b);
  console.table([
    { what: '300 cues, eight fixed times: median, 99th', figure: `${times[250]!.toFixed(2)} ms, ${times[495]!.toFixed(2)} ms`, aim: 'under 2 ms' },
  ]);
});

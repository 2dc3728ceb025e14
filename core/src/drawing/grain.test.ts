import { addGrain } from './grain';

const SIZE = { width: 400, height: 300 };

/** A dark sky: four steps of a byte from top to bottom. */
function darkSky(channels: number): Uint8Array {
  const data = new Uint8Array(SIZE.width * SIZE.height * channels).fill(255);
  for (let pixel = 0; pixel < SIZE.width * SIZE.height; pixel++) {
    const light = 12 + Math.floor((Math.floor(pixel / SIZE.width) / SIZE.height) * 4);
    for (let channel = 0; channel < Math.min(3, channels); channel++) data[pixel * channels + channel] = light + channel;
  }
  return data;
}

/** How many pixels beneath one another are alike, at the most. */
function longestAlike(data: Uint8Array, channels: number, column: number): number {
  let [longest, alike] = [1, 1];
  for (let row = 1; row < SIZE.height; row++) {
    const [above, here] = [row - 1, row].map((each) => data[(each * SIZE.width + column) * channels]!);
    alike = above === here ? alike + 1 : 1;
    longest = Math.max(longest, alike);
  }
  return longest;
}

test.each([3, 4])('the steps of a dark sky are seen no more, of %d channels, and it is as light and as grey as it was', (channels) => {
  const [before, after] = [darkSky(channels), darkSky(channels)];
  addGrain(after, channels);
  expect(longestAlike(before, channels, 200)).toBe(75);
  expect(longestAlike(after, channels, 200)).toBeLessThan(12);
  const mean = (data: Uint8Array) => data.reduce((sum, byte) => sum + byte, 0) / data.length;
  expect(mean(after)).toBeCloseTo(mean(before), 1);
  for (let pixel = 0; pixel < after.length; pixel += channels) {
    // No colour comes in, nobody sees a grain, and what is seen through stays so.
    if (after[pixel + 1]! - after[pixel]! !== 1 || Math.abs(after[pixel]! - before[pixel]!) > 3) throw new Error(`pixel ${pixel / channels}`);
    if (channels === 4 && after[pixel + 3] !== 255) throw new Error(`pixel ${pixel / channels} is seen through`);
  }
});

test('the same picture gets the same grain, and black and white stay within what a byte holds', () => {
  const [once, again] = [darkSky(3), darkSky(3)];
  addGrain(once, 3);
  addGrain(again, 3);
  expect(once).toEqual(again);
  const ends = Uint8Array.from({ length: 900 }, (_, at) => (at % 2 ? 255 : 0));
  addGrain(ends, 1);
  expect(ends.every((byte) => byte < 4 || byte > 251)).toBe(true);
});

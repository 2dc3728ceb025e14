import sharp from 'sharp';
import { Letters } from './lettering';

const own = new Letters();

/** What a line covers when it is drawn: the columns and rows between which there is ink. */
async function inkOf(text: string, size = 100): Promise<{ left: number; right: number; pixels: number }> {
  const width = 1_600;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="200"><path d="${own.path(text, 100, 130, size, 'display')}"/></svg>`;
  const { data, info } = await sharp(Buffer.from(svg)).ensureAlpha().extractChannel(3).raw().toBuffer({ resolveWithObject: true });
  let [left, right, pixels] = [width, 0, 0];
  for (let at = 0; at < data.length; at++) {
    if (data[at]! < 128) continue;
    const x = at % info.width;
    left = Math.min(left, x);
    right = Math.max(right, x);
    pixels += 1;
  }
  return { left, right, pixels };
}

test.each([
  'Dusk Report',
  'Ночь над холмом',
  'Νύχτα',
  'שלום לכולם',
  'مرحبا بالعالم',
  'क्षत्रिय रात्रि',
  'คืนไร้จันทร์',
  '星空観測の夜',
  '观测天文俱乐部',
  '밤하늘',
  '🌙 🔭',
  'Đêm trăng',
])('“%s” is drawn from the fonts that ship, as wide as it is measured', async (text) => {
  expect(own.undrawable(text)).toEqual([]);
  const { left, right, pixels } = await inkOf(text);
  expect(pixels).toBeGreaterThan(300);
  const measured = own.measure(text, 100, 'display');
  expect(left).toBeGreaterThan(100 - 12);
  expect(right).toBeLessThan(100 + measured + 12);
  expect(right - left).toBeGreaterThan(measured * 0.75);
});

test('sizes are in proportion, and what no font holds is told and left out', () => {
  expect(own.measure('Dusk', 200, 'text')).toBeCloseTo(2 * own.measure('Dusk', 100, 'text'));
  expect(own.undrawable('Dusk 𐎠 Report 𒀀')).toEqual(['𐎠', '𒀀']);
  expect(own.measure('Dusk𒀀', 100, 'text')).toBeCloseTo(own.measure('Dusk', 100, 'text'));
});

test('what is written from right to left stands to the right of what is written before it', async () => {
  // The Hebrew word comes first in writing and so stands at the right end of its line.
  const [mixed, latin] = [await inkOf('שלום I'), await inkOf('I')];
  expect(mixed.left).toBeLessThan(latin.left + 3);
  expect(own.path('(א', 0, 0, 100, 'text')).not.toBe(own.path(')א', 0, 0, 100, 'text'));
});

import { isDark, mixed } from './colours';
import { initialsOf, type Measure } from './drawing';
import { fitText } from './fit-text';

/** A face whose every character is half as wide as it is tall. */
const measure: Measure = (text, sizePx) => [...text].length * sizePx * 0.5;

test('scripts without spaces are broken between words, others never within one', () => {
  const fit = { widthPx: 300, lines: 3, largestPx: 60, smallestPx: 20, face: 'display' } as const;
  expect(fitText('星空観測の夜に集まる会', fit, measure).lines.length).toBeGreaterThan(1);
  expect(fitText('星空観測の夜に集まる会', fit, measure).lines.join('')).toBe('星空観測の夜に集まる会');
  expect(fitText('Dusk Report tonight', fit, measure).lines.join(' ')).toBe('Dusk Report tonight');
});

test('a text shrinks before it is cut, and is cut with an ellipsis', () => {
  const fit = { widthPx: 400, lines: 1, largestPx: 60, smallestPx: 20, face: 'display' } as const;
  expect(fitText('Dusk', fit, measure)).toEqual({ sizePx: 60, lines: ['Dusk'] });
  expect(fitText('Dusk Report tonight', fit, measure).lines).toEqual(['Dusk Report tonight']);
  expect(fitText('Dusk Report '.repeat(12), fit, measure).lines[0]).toMatch(/…$/);
});

test('a person without a portrait is known by the first letters of the name, without titles', () => {
  expect(['Dr Oriel Vance', 'Tomasz Wren', 'Juno', ''].map(initialsOf)).toEqual(['OV', 'TW', 'J', '']);
});

test('colours are mixed part by part, and a dark one asks for light letters', () => {
  expect([mixed('#000000', '#ffffff', 0.5), mixed('#0c2227', '#fbf8f0', 0), mixed('#0c2227', '#fbf8f0', 1)]).toEqual(['#808080', '#0c2227', '#fbf8f0']);
  expect([isDark('#0c2227'), isDark('#fdf3d7')]).toEqual([true, false]);
});

import { deedOf, keyOf, sayKey, STAGE_KEYS, withKey, type OwnKeys } from './stage-keys';

const press = (key: string, held: Partial<KeyboardEvent> = {}) => keyOf({ key, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false, ...held });

test('a press is what it is called, whatever the caps lock says; with Ctrl it is the browser’s', () => {
  expect([press('g'), press('G', { shiftKey: true }), press('G'), press(' '), press('?', { shiftKey: true })]).toEqual(['g', 'Shift g', 'g', ' ', '?']);
  expect(press('s', { ctrlKey: true })).toBeNull();
  expect([press('F13'), press('MediaTrackNext'), press('PageDown', { shiftKey: true })]).toEqual(['F13', 'MediaTrackNext', 'Shift PageDown']);
});

test('each key does one thing, and each thing has one', () => {
  expect(new Set(STAGE_KEYS.map(({ key }) => key)).size).toBe(STAGE_KEYS.length);
  for (const { key, does } of STAGE_KEYS) expect(deedOf(key, {})).toBe(does);
  expect(deedOf('x', {})).toBeNull();
});

test('a foot switch is given to a deed beside its key; what is taken already, or moves about the page, is not', () => {
  const own = withKey({}, 'take', 'PageDown') as OwnKeys;
  expect([deedOf('PageDown', own), deedOf(' ', own)]).toEqual(['take', 'take']);
  expect(withKey(own, 'graphic', 'PageDown')).toBe('PageDown is taken: take: the next scene goes out.');
  expect(withKey(own, 'graphic', 'm')).toBe('M is taken: own microphone on or off.');
  expect(withKey(own, 'graphic', 'Tab')).toContain('moves about the page');
  expect(withKey(own, 'take', 'F13')).toEqual({ take: 'F13' });
});

test('keys are said as they stand on a keyboard', () => {
  expect([' ', 'Shift g', 'ArrowUp', 'F13', '?'].map(sayKey)).toEqual(['Space', '⇧ G', '↑', 'F13', '?']);
});

import { privateWords, withoutPrivate } from './private-words';

const what = (text: string, publicUrl: string | null = 'https://alderfell.example') => privateWords(text, publicUrl).map((found) => found.what);

test.each([
  ['Send to rtmp://ingest.example/live/a1b2-c3d4', ['ingest address']],
  ['Come in: https://alderfell.example/on/x?pass=abcdef', ['personal link']],
  ['A guest’s: https://alderfell.example/door#abc-DEF', ['personal link']],
  ['See https://alderfell.example/shows/5f0f4c8e-1d68-4a52-8b0f-000000000001/stage', ['personal link']],
  ['http://192.168.1.20:8080/screen and http://[fd00::1]/x', ['inner address', 'inner address']],
  ['http://me@localhost:4700/on/x', ['inner address']],
])('%s', (text, expected) => {
  expect(what(text)).toEqual(expected);
});

test.each([
  'Watch at https://alderfell.example/on/abc or https://reelmoor.example/watch/1',
  'At 10.15 in the dome, 192.168 steps up the hill',
  'https://alderfell.example/shows/tonight',
  'The key of the evening: patience',
])('%s is for everybody', (text) => {
  expect(what(text)).toEqual([]);
});

test('the station’s own address is nobody’s secret, wherever it is tried out', () => {
  expect(what('http://localhost:4700/on/abc', 'http://localhost:4700')).toEqual([]);
  expect(what('http://localhost:4700/on/abc?pass=x', 'http://localhost:4700')).toEqual(['personal link']);
});

test('what is taken out leaves the rest of the text whole', () => {
  const text = 'Join us at rtmp://x.example/live tonight.\nBring tea.';
  expect(withoutPrivate(text, privateWords(text, null))).toBe('Join us at tonight.\nBring tea.');
});

import { sourcesOf } from './Player';

const here = { protocol: 'https:', hostname: 'live.alderfell.example' };
const playlistUrl = '/api/house/dusk/live/live.m3u8';
const beside = { url: null, port: 4701, path: '/live/dusk/live.m3u8' };

test('the picture is fetched where it is packed, and by way of the page’s own host where that cannot be reached', () => {
  expect(sourcesOf({ playlistUrl, playlistBeside: beside }, here)).toEqual(['https://live.alderfell.example:4701/live/dusk/live.m3u8', playlistUrl]);
  const named = { ...beside, url: 'https://air.alderfell.example' };
  expect(sourcesOf({ playlistUrl, playlistBeside: named }, here)[0]).toBe('https://air.alderfell.example/live/dusk/live.m3u8');
});

test('what is not for everybody comes by way of the host alone, and what is not there from nowhere', () => {
  expect(sourcesOf({ playlistUrl, playlistBeside: null }, here)).toEqual([playlistUrl]);
  expect(sourcesOf({ playlistUrl: null, playlistBeside: null }, here)).toEqual([]);
});

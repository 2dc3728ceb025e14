// Looks with all that belongs to them: letters of one's own, cards, what lies behind, sponsors; whose they are, and who changes them.
import type { ArtworkView, HouseView, LookPreview, LookView, ShowView } from '@lantern/contract';
import { OWN_LETTERS, OWN_LOOK, type PictureRecipe } from '@lantern/core';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { SeriesService } from '../series/series.service';
import { Series, Show } from '../shows/show.entities';
import { Person } from '../people/people.entities';
import { TestStation } from '../test/station';
import { ComposerService } from './composer.service';

let station: TestStation;
beforeAll(async () => (station = await TestStation.open()));
afterAll(() => station.close());
beforeEach(() => station.forgetTries());

const PALETTE = { ground: '#0c2227', ink: '#fbf8f0', accent: '#e7cf9a' };
const DRAFT = { name: 'Fell Night', palette: PALETTE, logoId: null, straps: 'edge' };
const fontFile = (name: string, kind = 'woff') =>
  readFileSync(join(require.resolve(`@fontsource/${name}/package.json`), `../files/${name}-latin-700-normal.${kind}`));
/** Unpacked as it is taken. */
const KEPT_AS = /font\/ttf/;
const as = (method: 'get' | 'post' | 'patch' | 'put' | 'delete', path: string, who?: string) => station.as(station.http()[method](path), who);
const library = async () => (await as('get', '/api/artwork').expect(200)).body as ArtworkView;
const addPiece = (kind: string, bytes: Buffer, name = 'A piece') =>
  as('post', `/api/artwork?kind=${kind}&name=${encodeURIComponent(name)}`)
    .type('application/octet-stream')
    .send(bytes);
const addLook = async (more: object = {}): Promise<LookView> =>
  (
    await as('post', '/api/looks')
      .send({ ...DRAFT, ...more })
      .expect(201)
  ).body;
const picture = () =>
  sharp({ create: { width: 800, height: 450, channels: 3, background: '#2b5a60' } })
    .png()
    .toBuffer();
const added = async (kind: string, bytes: Buffer, name?: string) => {
  const before = (await library()).pieces.map(({ id }) => id);
  return ((await addPiece(kind, bytes, name).expect(201)).body as ArtworkView).pieces.find(({ id }) => !before.includes(id))!;
};
const recipe = (lookId: string | null): PictureRecipe => ({
  ...{ layout: 'horizon', background: { kind: 'sky', mood: 'dusk', seed: 4 }, lookId, title: '', when: 'day', line: '', portraits: false, mark: true },
});
const composed = async (lookId: string | null, more: object = {}): Promise<ShowView> => {
  const { id } = (await as('post', '/api/shows').send(station.draft([], more)).expect(201)).body as ShowView;
  return (
    await as('put', `/api/shows/${id}/compositions`)
      .send({ which: 'thumbnail', recipe: recipe(lookId) })
      .expect(200)
  ).body;
};

test('a font of the station’s own brings its name and licence, is written with, and makes way for the product’s when it is taken out', async () => {
  const font = await added('font', fontFile('fraunces', 'woff2'));
  expect(font).toMatchObject({ kind: 'font', name: expect.stringContaining('Fraunces'), rights: expect.stringContaining('The Fraunces Project Authors') });
  await as('get', font.url)
    .expect(200)
    .expect('content-type', /font\/woff2/);
  const look = await addLook({ letters: { display: font.id, text: 'nunito' }, name: 'Old letters' });
  const drawnWith = async (letters: object) =>
    (
      (
        await as('post', '/api/looks/preview')
          .send({ ...DRAFT, letters })
          .expect(200)
      ).body as LookPreview
    ).thumbnail;
  // The same family, shipped and as a file of one's own, writes the same.
  const [own, shipped, other] = [
    await drawnWith({ display: font.id, text: 'nunito' }),
    await drawnWith({ display: 'fraunces', text: 'nunito' }),
    await drawnWith({ display: 'zilla-slab', text: 'nunito' }),
  ];
  expect([own === shipped, other === shipped]).toEqual([true, false]);
  const refused = await as('delete', `/api/artwork/${font.id}`).expect(409);
  expect(refused.body.words).toContain('the look “Old letters”');
  await as('delete', `/api/artwork/${font.id}?meant=yes`).expect(200);
  const after = (await library()).looks.find(({ id }) => id === look.id)!;
  expect(after).toMatchObject({ letters: { display: OWN_LETTERS.display, text: 'nunito' }, revision: look.revision + 1 });
});

test.each<[string, () => Buffer, string]>([
  ['an empty file', () => Buffer.alloc(0), 'empty'],
  ['a page', () => Buffer.from('<!doctype html><p>font'), 'not a font that can be read'],
  ['half a font', () => fontFile('nunito').subarray(0, 4_000), 'damaged'],
  ['what only calls itself one', () => Buffer.concat([Buffer.from('00010000', 'hex'), Buffer.alloc(60_000, 7)]), 'damaged'],
  [
    'one without letters of titles',
    () => readFileSync(join(require.resolve('@fontsource/noto-emoji/package.json'), '../files/noto-emoji-0-700-normal.woff')),
    'has no “A”',
  ],
  ['one that is too heavy', () => Buffer.concat([Buffer.from('00010000', 'hex'), Buffer.alloc(2_100_000)]), 'at most 2 MB'],
])('%s is refused as a font, with the reason, and nothing is kept', async (_what, bytes, words) => {
  const before = await library();
  const { status, body } = await addPiece('font', bytes());
  expect([status >= 400 && status < 500, body.words]).toEqual([true, expect.stringContaining(words)]);
  expect(await library()).toEqual(before);
});

test('a look speaks of nothing that is not the station’s, or is of another kind', async () => {
  const behind = await added('picture', await picture());
  const strange = '11111111-2222-4333-8444-555555555555';
  for (const [wrong, words] of [
    [{ letters: { display: strange, text: 'nunito' } }, 'not in the library'],
    [{ letters: { display: 'comic', text: 'nunito' } }, 'Choose one of the letters'],
    [{ sponsors: [behind.id] }, 'Choose a logo'],
    [{ background: { kind: 'picture', pieceId: strange } }, 'not in the library'],
    [{ background: { kind: 'sky', mood: 'storm', seed: 1 } }, 'skies'],
    [{ sponsors: Array.from({ length: 9 }, (_, at) => strange.replace('1111', `111${at}`)) }, 'room for 8'],
  ] as const) {
    const { status, body } = await as('post', '/api/looks').send({ ...DRAFT, ...wrong });
    expect([status >= 400 && status < 500, JSON.stringify(body)]).toEqual([true, expect.stringContaining(words)]);
  }
  const kept = await addLook({ name: 'With all', background: { kind: 'picture', pieceId: behind.id }, cards: 'moon' });
  expect(kept).toMatchObject({ cards: 'moon', background: { kind: 'picture', pieceId: behind.id } });
  await as('delete', `/api/artwork/${behind.id}?meant=yes`).expect(200);
  expect((await library()).looks.find(({ id }) => id === kept.id)!.background).toBeNull();
});

test('of two people who change one look the second is told, and may keep theirs over it', async () => {
  const look = await addLook({ name: 'Of two' });
  const change = (name: string, revision: number) => as('put', `/api/looks/${look.id}`).send({ ...DRAFT, name, revision });
  await change('Of the first', 0).expect(200);
  const late = await change('Of the second', 0).expect(409);
  expect(late.body.words).toContain('Somebody else has changed “Of the first”');
  expect((await library()).looks.find(({ id }) => id === look.id)!.name).toBe('Of the first');
  await change('Of the second', 1).expect(200);
});

test('one look is the station’s: shows whose pictures came as files, or have none, are made in it', async () => {
  const [first, second] = [await addLook({ name: 'First' }), await addLook({ name: 'Second', letters: { display: 'nunito', text: 'nunito' } })];
  const forStation = async () => (await library()).looks.filter((look) => look.forStation).map(({ id }) => id);
  for (const { id } of [first, second]) await as('put', '/api/looks/of-station').send({ lookId: id }).expect(204);
  expect(await forStation()).toEqual([second.id]);
  const lookOf = (of: object) => station.app.get(ComposerService).lookOf(of as Show);
  const { stationId } = await station.database.getRepository(Person).findOneByOrFail({ role: 'owner' });
  const asFiles = { stationId, thumbnail: { width: 1280, height: 720, version: 'v1' }, waiting: null };
  for (const show of [asFiles, { ...asFiles, thumbnail: null }]) expect(await lookOf(show)).toMatchObject({ id: second.id });
  // Whoever composed a picture in the product's own colours meant it.
  expect(await lookOf({ ...asFiles, thumbnail: { ...asFiles.thumbnail, recipe: recipe(null) } })).toEqual(OWN_LOOK);
  await as('put', '/api/looks/of-station').send({ lookId: null }).expect(204);
  expect(await forStation()).toEqual([]);
  await as('put', '/api/looks/of-station').send({ lookId: '11111111-2222-4333-8444-555555555555' }).expect(404);
  await as('put', '/api/looks/of-station', await station.person('moderator'))
    .send({ lookId: first.id })
    .expect(403);
});

test('a series is made in another look with all its dates to come, and those that follow', async () => {
  station.travelTo(Date.parse('2026-11-28T10:00:00Z'));
  const look = await addLook({ name: 'For the series' });
  const show = await composed(null, { title: 'Every Thursday', date: '2026-12-03' });
  const pattern = { every: 'week', interval: 1, on: ['TH'] };
  const rule = { pattern, from: '2026-12-03', ends: { kind: 'count', count: 3 }, also: [], dropped: [], placesByItself: false };
  await as('post', `/api/shows/${show.id}/series`).send(rule).expect(201);
  await station.app.get(SeriesService).tick();
  const { seriesId } = await station.database.getRepository(Show).findOneByOrFail({ id: show.id });
  const stranger = await station.person('owner', 'another');
  await as('put', `/api/series/${seriesId}/look`, stranger).send({ lookId: look.id }).expect(404);
  const { body } = await as('put', `/api/series/${seriesId}/look`).send({ lookId: look.id }).expect(200);
  expect(body).toEqual({ title: 'Every Thursday', dates: 3 });
  const dates = await station.database.getRepository(Show).findBy({ seriesId: seriesId! });
  expect(dates.map(({ thumbnail, waiting }) => [thumbnail!.recipe!.lookId, waiting!.recipe!.lookId])).toEqual(dates.map(() => [look.id, look.id]));
  const { picture } = await station.database.getRepository(Series).findOneByOrFail({ id: seriesId! });
  expect(picture!.recipe!.lookId).toBe(look.id);
  station.travelTo(Date.now());
});

test('the house page is lent the colours and letters of the waiting picture, and the font of one’s own with them', async () => {
  const font = await added('font', fontFile('zilla-slab'));
  const look = await addLook({ name: 'On the page', letters: { display: font.id, text: 'nunito' } });
  const show = await composed(look.id, { title: 'On a page' });
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'placed' });
  const slug = new URL(show.houseUrl).pathname.split('/').at(-1)!;
  const house = (await station.http().get(`/api/house/${slug}`).expect(200)).body as HouseView;
  expect(house.waitingLook).toMatchObject({ palette: PALETTE, letters: font.id });
  await station.http().get(house.waitingLook!.url!).expect(200).expect('content-type', KEPT_AS);
  await as('put', `/api/looks/${look.id}`)
    .send({ ...DRAFT, name: 'On the page', letters: OWN_LETTERS, revision: 0 })
    .expect(200);
  const after = (await station.http().get(`/api/house/${slug}`).expect(200)).body as HouseView;
  expect(after.waitingLook).toMatchObject({ letters: OWN_LETTERS.display, url: null });
  await station.http().get(house.waitingLook!.url!).expect(404);
});

test.each([
  ['dusk', '3', 200],
  ['storm', '3', 404],
  ['dusk', '-1', 404],
  ['dusk', '99999999', 404],
])('the sky “%s/%s” answers with %d', async (mood, seed, status) => {
  const { body, headers } = await as('get', `/api/skies/${mood}/${seed}`).expect(status);
  if (status !== 200) return;
  expect(headers['content-type']).toBe('image/jpeg');
  expect(await sharp(body as Buffer).metadata()).toMatchObject({ width: 1280, height: 720 });
});

import type { ArtworkView, CompositionPreview, OwnPictureView, ShowView } from '@lantern/contract';
import { shapeKey, type PictureRecipe } from '@lantern/core';
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { SeriesService } from '../series/series.service';
import { Show } from '../shows/show.entities';
import { TestStation } from '../test/station';
import { ComposerService } from './composer.service';

let station: TestStation;
beforeAll(async () => (station = await TestStation.open()));
afterAll(() => station.close());

const RECIPE: PictureRecipe = {
  ...{
    layout: 'slip',
    background: { kind: 'sky', mood: 'dusk', seed: 4 },
    lookId: null,
    title: '',
    when: 'day and time',
    line: '',
    portraits: true,
    mark: true,
  },
};
const TOMASZ = { name: 'Tomasz Wren', role: 'guest', zone: null };
const photograph = (colour = '#a86') =>
  sharp({ create: { width: 800, height: 600, channels: 3, background: colour } })
    .png()
    .toBuffer();

const make = async (change = {}): Promise<ShowView> => (await station.as(station.http().post('/api/shows').send(station.draft([], change))).expect(201)).body;
const read = async (id: string): Promise<ShowView> => (await station.as(station.http().get(`/api/shows/${id}`)).expect(200)).body;
const keep = async (id: string, recipe: object, which = 'thumbnail'): Promise<ShowView> =>
  (await station.as(station.http().put(`/api/shows/${id}/compositions`).send({ which, recipe })).expect(200)).body;
const preview = async (id: string, recipe: object): Promise<CompositionPreview> =>
  (await station.as(station.http().post(`/api/shows/${id}/compositions/preview`).send({ which: 'thumbnail', recipe })).expect(200)).body;
const add = async (kind: string, name: string, bytes?: Buffer): Promise<ArtworkView> =>
  (
    await station
      .as(
        station
          .http()
          .post(`/api/artwork?kind=${kind}&name=${encodeURIComponent(name)}`)
          .type('application/octet-stream')
          .send(bytes ?? (await photograph())),
      )
      .expect(201)
  ).body;
const upToDate = (id: string) => station.app.get(ComposerService).bringUpToDate(id);
const stored = (id: string) => station.database.getRepository(Show).findOneByOrFail({ id });

test('a composed picture is drawn in each shape, is said in words, and follows the show', async () => {
  const show = await keep((await make()).id, RECIPE);
  expect(show.thumbnail).toMatchObject({ recipe: RECIPE, width: 1920, height: 1080 });
  expect(show.thumbnailAlternative).toContain('Dusk Report, Thursday 3 December');
  for (const [shape, height] of [
    [16 / 9, 1080],
    [2, 960],
  ] as const) {
    const drawn = await sharp(readFileSync(join(station.folder, 'pictures', `${show.id}.master-${shapeKey(shape)}`))).metadata();
    expect([drawn.width, drawn.height]).toEqual([1920, height]);
  }
  const before = show.thumbnail!.url;
  await upToDate(show.id);
  expect((await read(show.id)).thumbnail!.url).toBe(before);
  await station
    .as(
      station
        .http()
        .patch(`/api/shows/${show.id}`)
        .send({ base: show.version, changes: { date: '2099-12-10' } }),
    )
    .expect(200);
  await upToDate(show.id);
  const after = await read(show.id);
  expect(after.thumbnail!.url).not.toBe(before);
  expect((await stored(show.id)).thumbnail!.letters!.find(({ role }) => role === 'when')!.text).toContain('10 December');
  // Nobody edited the sheet: it only followed.
  expect(after.changedBy).toBe(show.changedBy);
});

test('a night sky has no edges between its few dark colours, also where it is shown smaller', async () => {
  const night = { ...RECIPE, layout: 'horizon', background: { kind: 'sky', mood: 'dusk', seed: 3 }, mark: false };
  const show = await keep((await make({ title: 'Night' })).id, night);
  const { data, info } = await sharp(join(station.folder, 'pictures', `${show.id}.sent`))
    .raw()
    .toBuffer({ resolveWithObject: true });
  let longest = 0;
  for (let column = 900; column < 1_200; column += 100) {
    let alike = 0;
    for (let row = 1; row < 350; row++) {
      const [above, here] = [row - 1, row].map((at) => data[(at * info.width + column) * info.channels]!);
      alike = above === here ? alike + 1 : 0;
      longest = Math.max(longest, alike);
    }
  }
  // Without a grain it is some forty.
  expect(longest).toBeLessThan(14);
});

test('what is typed while a picture is being stored or drawn is kept, and so is the picture', async () => {
  const show = await make({ title: 'Before' });
  const large = await sharp({ create: { width: 3_000, height: 2_000, channels: 3, background: '#345', noise: { type: 'gaussian', mean: 120, sigma: 20 } } })
    .jpeg()
    .toBuffer();
  let version = show.version;
  const type = async (title: string) => {
    await new Promise((next) => setTimeout(next, 60)); // the picture is on its way by now
    const { body } = await station.as(station.http().patch(`/api/shows/${show.id}`).send({ base: version, changes: { title } })).expect(200);
    version = body.show.version;
  };
  await Promise.all([
    station.as(station.http().put(`/api/shows/${show.id}/thumbnail`).type('application/octet-stream').send(large)).expect(200),
    type('Typed meanwhile'),
  ]);
  expect(await read(show.id)).toMatchObject({ title: 'Typed meanwhile', thumbnail: { width: 3_000 } });
  await Promise.all([keep(show.id, RECIPE), type('Typed again')]);
  const after = await read(show.id);
  expect(after).toMatchObject({ title: 'Typed again', thumbnail: { recipe: RECIPE } });
  expect(after.version).toBeGreaterThan(version - 1);
});

test('each date of a series has its own date on its picture', async () => {
  const show = await make({ date: '2026-12-03', description: 'weekly' });
  station.travelTo(Date.parse('2026-11-28T10:00:00Z'));
  await keep(show.id, RECIPE);
  await station
    .as(
      station
        .http()
        .post(`/api/shows/${show.id}/series`)
        .send({
          pattern: { every: 'week', interval: 1, on: ['TH'] },
          from: '2026-12-03',
          ends: { kind: 'count', count: 3 },
          also: [],
          dropped: [],
          placesByItself: false,
        }),
    )
    .expect(201);
  await station.app.get(SeriesService).tick();
  const dates = await station.database.getRepository(Show).find({ where: { description: 'weekly' }, order: { startsAt: 'ASC' } });
  expect(dates).toHaveLength(3);
  for (const { id } of dates) await upToDate(id);
  const written = await Promise.all(dates.map(async ({ id }) => (await stored(id)).thumbnail!.letters!.find(({ role }) => role === 'when')!.text));
  expect(written.map((when) => /\d+ \w+/.exec(when)![0])).toEqual(['3 December', '10 December', '17 December']);
  station.travelTo(Date.now());
});

test('a waiting picture is made from the same parts until it has one of its own, and again when that is given up', async () => {
  const show = await keep((await make()).id, RECIPE);
  expect(show.waiting).toMatchObject({ follows: true, recipe: RECIPE });
  const other = await keep(show.id, { ...RECIPE, layout: 'moon' });
  expect(other.waiting!.recipe!.layout).toBe('moon');
  const own = await keep(show.id, { ...RECIPE, layout: 'row' }, 'waiting');
  expect(own.waiting).toMatchObject({ follows: false });
  expect((await keep(show.id, RECIPE)).waiting!.recipe!.layout).toBe('row');
  const { body: sent } = await station
    .as(
      station
        .http()
        .put(`/api/shows/${show.id}/waiting`)
        .type('application/octet-stream')
        .send(await photograph()),
    )
    .expect(200);
  expect(sent.waiting).toMatchObject({ recipe: null, width: 800 });
  await station.as(station.http().get(sent.waiting.url)).expect(200).expect('content-type', 'image/jpeg');
  await station.as(station.http().delete(`/api/shows/${show.id}/waiting`)).expect(200);
  expect((await read(show.id)).waiting).toMatchObject({ follows: true });
});

test('what would be hard to read is told with what was measured', async () => {
  const { id } = await make({ title: 'D', people: [TOMASZ] });
  const plain = await preview(id, { ...RECIPE, title: 'Dusk Report' });
  expect(plain.picture).toMatch(/^data:image\/jpeg;base64,/);
  expect(plain.letters.find(({ role }) => role === 'title')!.troubles).toEqual([]);
  const long = await preview(id, { ...RECIPE, title: 'What the observers of the fell saw in the long nights of the new moon before dawn' });
  expect(long.letters.some(({ role, troubles }) => role === 'title' && troubles.includes('small'))).toBe(true);
  const { body: look } = await station
    .as(
      station
        .http()
        .post('/api/looks')
        .send({ name: 'Faint', palette: { ground: '#777777', ink: '#888888', accent: '#999999' }, logoId: null }),
    )
    .expect(201);
  const pale = await preview(id, { ...RECIPE, lookId: look.id });
  expect(pale.letters.every(({ role, troubles }) => role === 'station' || troubles.includes('pale'))).toBe(true);
  expect((await preview(id, { ...RECIPE, line: '𒀀 and stars' })).missing).toEqual(['𒀀']);
});

test('a portrait is found by the guest’s name, and tells where it is used', async () => {
  const show = await keep((await make({ title: 'With a guest', people: [TOMASZ] })).id, RECIPE);
  expect((await preview(show.id, RECIPE)).withoutPortrait).toEqual(['Tomasz Wren']);
  const { pieces } = await add('portrait', 'tomasz wren');
  expect((await preview(show.id, RECIPE)).withoutPortrait).toEqual([]);
  expect(pieces.find(({ kind }) => kind === 'portrait')!.usedBy).toEqual([{ showId: show.id, words: '“With a guest” on Thursday 3 December' }]);
  await upToDate(show.id);
  expect((await read(show.id)).thumbnail!.url).not.toBe(show.thumbnail!.url);
});

test('what is used is taken out only when that is meant; pictures stay as they are and make themselves no more', async () => {
  const { pieces } = await add('picture', 'The dome');
  const piece = pieces.find(({ name }) => name === 'The dome')!;
  const show = await keep((await make({ title: 'Before the dome' })).id, { ...RECIPE, background: { kind: 'picture', pieceId: piece.id } });
  const { body: refusal } = await station.as(station.http().delete(`/api/artwork/${piece.id}`)).expect(409);
  expect(refusal.words).toContain('“Before the dome”');
  await station.as(station.http().delete(`/api/artwork/${piece.id}?meant=yes`)).expect(200);
  const after = await read(show.id);
  expect(after.thumbnail).toMatchObject({ recipe: null, width: 1920 });
  await station.as(station.http().get(after.thumbnail!.url)).expect(200);
  await station
    .as(
      station
        .http()
        .put(`/api/shows/${show.id}/compositions`)
        .send({ which: 'thumbnail', recipe: { ...RECIPE, background: { kind: 'picture', pieceId: piece.id } } }),
    )
    .expect(404);
});

test('a composition of the library makes itself for another show; a picture is taken as it is', async () => {
  const first = await make({ title: 'First' });
  const { body: kept } = await station
    .as(station.http().post('/api/artwork/compositions').send({ name: 'Our slip', showId: first.id, recipe: RECIPE }))
    .expect(201);
  const composition = (kept as ArtworkView).pieces.find(({ kind }) => kind === 'composition')!;
  const second = await make({ title: 'Second' });
  const take = (pieceId: string) => station.as(station.http().put(`/api/shows/${second.id}/pictures`).send({ which: 'thumbnail', pieceId }));
  const { body: composed } = await take(composition.id).expect(200);
  expect(composed.thumbnail.recipe).toEqual(RECIPE);
  const { pieces } = (await station.as(station.http().get('/api/artwork')).expect(200)).body as ArtworkView;
  expect(pieces.find(({ id }) => id === composition.id)!.usedBy.map(({ words }) => words)).toContain('“Second” on Thursday 3 December');
  expect((await stored(second.id)).thumbnail!.letters!.find(({ role }) => role === 'title')!.text).toBe('Second');
  const picture = (await add('picture', 'As it is')).pieces.find(({ name }) => name === 'As it is')!;
  expect((await take(picture.id).expect(200)).body.thumbnail).toMatchObject({ recipe: null, width: 800, height: 600 });
  await take(composed.id).expect(404);
});

test('a look in use is taken away only when that is meant, and pictures then take the product’s own colours', async () => {
  const draft = { name: 'Bright', palette: { ground: '#fdf3d7', ink: '#12343a', accent: '#a8401f' }, logoId: null };
  const { body: look } = await station.as(station.http().post('/api/looks').send(draft)).expect(201);
  const show = await keep((await make({ title: 'In bright colours' })).id, { ...RECIPE, lookId: look.id });
  const corner = async () => {
    const { data } = await sharp(join(station.folder, 'pictures', `${show.id}.master`))
      .extract({ left: 130, top: 700, width: 4, height: 4 })
      .raw()
      .toBuffer({ resolveWithObject: true });
    return data[0]!;
  };
  expect(await corner()).toBeGreaterThan(200);
  expect((await station.as(station.http().delete(`/api/looks/${look.id}`)).expect(409)).body.words).toContain('“In bright colours”');
  await station.as(station.http().delete(`/api/looks/${look.id}?meant=yes`)).expect(204);
  await upToDate(show.id);
  expect(await corner()).toBeLessThan(60);
});

describe('is refused in words', () => {
  test.each([
    ['a layout that is none', { ...RECIPE, layout: 'free' }, 400],
    ['a background of another’s library', { ...RECIPE, background: { kind: 'picture', pieceId: '7d0e7f8e-9a4c-4f55-8f3b-0c7f7f2f9a11' } }, 404],
    ['a title as long as a text', { ...RECIPE, title: 'x'.repeat(121) }, 400],
    ['a look that was removed', { ...RECIPE, lookId: '7d0e7f8e-9a4c-4f55-8f3b-0c7f7f2f9a11' }, 404],
  ])('%s', async (_name, recipe, status) => {
    const { id } = await make();
    const { body } = await station.as(station.http().put(`/api/shows/${id}/compositions`).send({ which: 'thumbnail', recipe })).expect(status);
    expect(body.words).toMatch(/\w/);
    expect((await read(id)).thumbnail).toBeNull();
  });

  test('a page that says it is a logo, a kind that is none, and whatever a moderator or another station asks for', async () => {
    const send = (kind: string, bytes: Buffer, who = station.cookie) =>
      station.as(station.http().post(`/api/artwork?kind=${kind}&name=x`).type('application/octet-stream').send(bytes), who);
    await send('logo', Buffer.from('<!doctype html><p>no')).expect(415);
    await send('clip', await photograph()).expect(400);
    const own = (await add('logo', 'Sign')).pieces[0]!;
    const [moderator, stranger] = [await station.person('moderator'), await station.person('owner', 'another-station')];
    await send('logo', await photograph(), moderator).expect(403);
    await station.as(station.http().get(own.url), moderator).expect(200);
    await station.as(station.http().get(own.url), stranger).expect(404);
    await station.as(station.http().delete(`/api/artwork/${own.id}`), stranger).expect(404);
    expect((await station.as(station.http().get('/api/artwork'), stranger).expect(200)).body).toEqual({ pieces: [], looks: [] });
  });

  test('a logo keeps what can be seen through', async () => {
    const clear = await sharp({ create: { width: 60, height: 60, channels: 4, background: { r: 255, g: 255, b: 255, alpha: 0 } } })
      .png()
      .toBuffer();
    const { url } = (await add('logo', 'Clear', clear)).pieces.find(({ name }) => name === 'Clear')!;
    const { body } = await station.as(station.http().get(url)).expect('content-type', 'image/png');
    expect((await sharp(body as Buffer).stats()).isOpaque).toBe(false);
  });
});

test('one’s own picture is the portrait of one’s name; another takes its place, and a bad file takes nothing away', async () => {
  const person = await station.person('producer');
  const own = (method: 'get' | 'put' | 'delete') => station.as(station.http()[method]('/api/me/picture'), person);
  const put = (bytes: Buffer) => own('put').type('application/octet-stream').send(bytes);
  const called = async (name: string) =>
    ((await station.as(station.http().get('/api/artwork'))).body as ArtworkView).pieces.filter((piece) => piece.name === name);
  expect((await own('get').expect(200)).body).toEqual({ picture: null });
  // As a telephone takes it: far larger than what a form may send.
  const taken = await sharp(randomBytes(900 * 700 * 3), { raw: { width: 900, height: 700, channels: 3 } })
    .jpeg()
    .toBuffer();
  expect(taken.length).toBeGreaterThan(300_000);
  const first = ((await put(taken).expect(200)).body as OwnPictureView).picture!;
  expect(first.kind).toBe('portrait');
  await put(Buffer.from('<!doctype html><p>no')).expect(415);
  expect(((await own('get')).body as OwnPictureView).picture?.id).toBe(first.id);
  const second = ((await put(await photograph('#68a')).expect(200)).body as OwnPictureView).picture!;
  expect(second.id).not.toBe(first.id);
  expect((await called(first.name)).map(({ id }) => id)).toEqual([second.id]);
  expect((await own('delete').expect(200)).body).toEqual({ picture: null });
});

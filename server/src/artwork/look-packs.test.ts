// Look packs from one station to another, and what else calls itself one.
import type { ArtworkView, LookView, PackView, ShowView } from '@lantern/contract';
import { OWN_LETTERS } from '@lantern/core';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { TestStation } from '../test/station';

let station: TestStation;
let other = '';
let look: LookView;
let pack: Buffer;
const PALETTE = { ground: '#fdf3d7', ink: '#12343a', accent: '#a8401f' };

const as = (method: 'get' | 'post' | 'patch' | 'put', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const picture = (colour: string) =>
  sharp({ create: { width: 800, height: 450, channels: 3, background: colour } })
    .png()
    .toBuffer();
const send = (path: string, bytes: Uint8Array, who = other) => as('post', path, who).type('application/octet-stream').send(Buffer.from(bytes));
const library = async (who = other) => (await as('get', '/api/artwork', who).expect(200)).body as ArtworkView;

beforeAll(async () => {
  station = await TestStation.open();
  const add = async (kind: string, name: string, colour: string) => {
    const { body } = await as('post', `/api/artwork?kind=${kind}&name=${encodeURIComponent(name)}`)
      .type('application/octet-stream')
      .send(await picture(colour))
      .expect(201);
    return (body as ArtworkView).pieces.find((piece) => piece.name === name)!.id;
  };
  const [sign, dome] = [await add('logo', 'Club sign', '#f2b658'), await add('picture', 'The dome', '#2b5a60')];
  const [baker, behind] = [await add('logo', 'The Cooper’s Loaf', '#8a4b22'), await add('picture', 'The fell', '#15383e')];
  const file = readFileSync(join(require.resolve('@fontsource/fraunces/package.json'), '../files/fraunces-latin-700-normal.woff'));
  const { body: withFont } = await as('post', '/api/artwork?kind=font&name=').type('application/octet-stream').send(file).expect(201);
  const font = (withFont as ArtworkView).pieces.find(({ kind }) => kind === 'font')!.id;
  await as('patch', `/api/artwork/${dome}`).send({ name: 'The dome', alternative: 'The dome at night.', rights: 'Drawn by the club' }).expect(200);
  look = (
    await as('post', '/api/looks')
      .send({
        ...{ name: 'Junior Dome', palette: PALETTE, logoId: sign, straps: 'block', cards: 'moon', sponsors: [baker, sign], sponsorsInCorner: true },
        ...{ letters: { display: font, text: 'nunito' }, background: { kind: 'picture', pieceId: behind } },
      })
      .expect(201)
  ).body as LookView;
  const show = (await as('post', '/api/shows').send(station.draft([])).expect(201)).body as ShowView;
  const recipe = {
    layout: 'horizon',
    background: { kind: 'picture', pieceId: dome },
    lookId: look.id,
    title: '',
    when: 'day',
    line: '',
    portraits: false,
    mark: true,
  };
  await as('put', `/api/shows/${show.id}/compositions`).send({ which: 'thumbnail', recipe }).expect(200);
  pack = (
    await as('get', `/api/looks/${look.id}/pack`)
      .buffer()
      .parse((res, done) => {
        const parts: Buffer[] = [];
        res.on('data', (part: Buffer) => parts.push(part));
        res.on('end', () => done(null, Buffer.concat(parts)));
      })
      .expect(200)
      .expect('content-disposition', "attachment; filename*=UTF-8''Junior%20Dome.look.zip")
  ).body as Buffer;
  other = await station.person('owner', 'another');
});
afterAll(() => station.close());
beforeEach(() => station.forgetTries());

interface InPack {
  file: string;
}
interface PackedHere {
  logo: InPack;
  backgrounds: InPack[];
  sponsors: InPack[];
  background: { picture: InPack };
  letters: { display: { font: InPack }; text: object };
}

test('a pack holds the look with all that it needs, as its schema says', () => {
  const files = unzipSync(pack);
  const json = JSON.parse(Buffer.from(files['look.json']!).toString()) as PackedHere;
  expect(json).toMatchObject({ format: 'noble-lantern-look', version: 2, name: 'Junior Dome', palette: PALETTE, straps: 'block', logo: { name: 'Club sign' } });
  expect(json.backgrounds).toEqual([expect.objectContaining({ name: 'The dome', alternative: 'The dome at night.', rights: 'Drawn by the club' })]);
  const all = [json.logo, json.backgrounds[0]!, json.background.picture, ...json.sponsors, json.letters.display.font];
  expect(Object.keys(files).sort()).toEqual(['look.json', ...new Set(all.map(({ file }) => file))].sort());
  expect(json.letters).toMatchObject({ display: { font: { rights: expect.stringContaining('The Fraunces Project Authors') } }, text: { shipped: 'nunito' } });
  // The published schema names every field that is there.
  const schema = JSON.parse(readFileSync(join(__dirname, '../../../docs/look-pack.schema.json'), 'utf8')) as { properties: object; required: string[] };
  expect(Object.keys(schema.properties).sort()).toEqual(Object.keys(json).sort());
  expect([...schema.required].sort()).toEqual(Object.keys(json).sort());
});

test('another station sees what is in it before anything is kept, takes it, and makes the pictures of a show with it', async () => {
  const before = await library();
  const seen = (await send('/api/looks/packs/open', pack).expect(200)).body as PackView;
  expect(seen).toMatchObject({
    name: 'Junior Dome',
    palette: PALETTE,
    straps: 'block',
    cards: 'moon',
    behind: 'picture',
    sponsorsInCorner: true,
    collides: [],
  });
  expect(seen.letters).toEqual({
    display: { name: expect.stringContaining('Fraunces'), own: true, rights: expect.stringContaining('The Fraunces Project Authors'), isThere: false },
    text: { name: 'Nunito', own: false, rights: '', isThere: true },
  });
  expect(seen.pictures.map(({ name, use, isThere, rights }) => [name, use, isThere, rights])).toEqual([
    ['Club sign', 'logo', false, ''],
    ['The Cooper’s Loaf', 'sponsor', false, ''],
    ['Club sign', 'sponsor', false, ''],
    ['The fell', 'behind all', false, ''],
    ['The dome', 'background', false, 'Drawn by the club'],
  ]);
  expect(seen.pictures.every((each) => each.picture.startsWith('data:image/png;base64,'))).toBe(true);
  expect(await library()).toEqual(before);
  const taken = (await send('/api/looks/packs', pack).expect(201)).body as LookView;
  const after = await library();
  expect(after.looks).toEqual([taken]);
  expect(after.pieces.map(({ name, kind, rights }) => [name, kind, rights]).sort()).toEqual([
    ['Club sign', 'logo', ''],
    [expect.stringContaining('Fraunces'), 'font', expect.stringContaining('The Fraunces Project Authors')],
    ['The Cooper’s Loaf', 'logo', ''],
    ['The dome', 'picture', 'Drawn by the club'],
    ['The fell', 'picture', ''],
  ]);
  const idOf = (name: string) => after.pieces.find((piece) => piece.name === name)!.id;
  expect(taken).toMatchObject({
    cards: 'moon',
    sponsors: [idOf('The Cooper’s Loaf'), idOf('Club sign')],
    background: { kind: 'picture', pieceId: idOf('The fell') },
  });
  expect(after.pieces.find(({ id }) => id === taken.letters.display)!.kind).toBe('font');
  expect(after.pieces.find(({ id }) => id === taken.logoId)!.name).toBe('Club sign');
  const show = (await as('post', '/api/shows', other).send(station.draft([])).expect(201)).body as ShowView;
  const without = await as('put', `/api/shows/${show.id}/look`, other).send({ lookId: taken.id }).expect(409);
  expect(without.body.words).toContain('came as files');
  const recipe = { layout: 'horizon', background: { kind: 'colour' }, lookId: null, title: '', when: 'day', line: '', portraits: false, mark: true };
  await as('put', `/api/shows/${show.id}/compositions`, other).send({ which: 'thumbnail', recipe }).expect(200);
  const used = (await as('put', `/api/shows/${show.id}/look`, other).send({ lookId: taken.id }).expect(200)).body as ShowView;
  expect(used.thumbnail!.recipe!.lookId).toBe(taken.id);
});

test('what is there already is told, and taken once more it takes no second picture', async () => {
  const seen = (await send('/api/looks/packs/open', pack).expect(200)).body as PackView;
  expect(seen.collides).toEqual([
    'There is a look “Junior Dome” already: this one is kept as “Junior Dome 2”.',
    expect.stringContaining('a logo “Club sign” already'),
    expect.stringContaining('a logo “The Cooper’s Loaf” already'),
    expect.stringContaining('a logo “Club sign” already'),
    expect.stringContaining('a picture “The fell” already'),
    expect.stringContaining('a picture “The dome” already'),
    expect.stringMatching(/a font “.*Fraunces.*” already/),
  ]);
  await send('/api/looks/packs', pack).expect(201);
  const { looks, pieces } = await library();
  expect([looks.map(({ name }) => name), pieces.length]).toEqual([['Junior Dome', 'Junior Dome 2'], 5]);
});

const json = (change: object) => ({ ...(JSON.parse(Buffer.from(unzipSync(pack)['look.json']!).toString()) as object), ...change });
const packed = (change: object, more: Record<string, Uint8Array> = {}) =>
  zipSync({ ...unzipSync(pack), 'look.json': strToU8(JSON.stringify(json(change))), ...more });

test.each<[string, () => Uint8Array, string]>([
  ['an empty file', () => new Uint8Array(), 'it is empty'],
  ['a page', () => strToU8('<!doctype html>'), 'it is no zip'],
  ['half of one', () => pack.subarray(0, Math.round(pack.length / 2)), 'it is damaged'],
  ['a zip of something else', () => zipSync({ 'notes.txt': strToU8('notes') }), 'there is no look in it'],
  ['another kind of file', () => packed({ format: 'something-else' }), 'its look is of another kind'],
  ['one of a newer version', () => packed({ version: 3 }), 'made by a newer Noble Lantern'],
  ['one with a colour that is none', () => packed({ palette: { ...PALETTE, ink: 'url(//elsewhere)' } }), '“palette” of its look'],
  ['one that leads out of its folder', () => packed({ logo: { file: '../../key.png', name: 'x', alternative: '', rights: '' } }), '“logo” of its look'],
  [
    'one whose picture is missing',
    () => packed({ logo: { file: 'pictures/none.png', name: 'Sign', alternative: '', rights: '' } }),
    'the picture of “Sign” is missing',
  ],
  [
    'one whose picture is none',
    () => packed({ logo: { file: 'pictures/page.png', name: 'Sign', alternative: '', rights: '' } }, { 'pictures/page.png': strToU8('<!doctype html>') }),
    'not a picture that can be read',
  ],
  [
    'one whose font is none',
    () =>
      packed(
        { letters: { display: { font: { file: 'fonts/page.ttf', name: 'Page', rights: '' } }, text: { shipped: 'nunito' } } },
        { 'fonts/page.ttf': strToU8('<!doctype html>') },
      ),
    'not a font that can be read',
  ],
  ['one whose letters nobody ships', () => packed({ letters: { display: { shipped: 'comic' }, text: { shipped: 'nunito' } } }), '“letters” of its look'],
  ['one with a sky that is none', () => packed({ background: { kind: 'sky', mood: 'storm', seed: 3 } }), '“background” of its look'],
  ['one that unpacks to more than there is room for', () => packed({}, { 'pictures/zeros.png': new Uint8Array(90_000_000) }), 'more than a pack may'],
])('%s is refused with the reason, and changes nothing', async (_what, bytes, words) => {
  const before = await library();
  for (const path of ['/api/looks/packs/open', '/api/looks/packs']) {
    const { status, body } = await send(path, bytes());
    expect([status >= 400 && status < 500, body.words]).toEqual([true, expect.stringContaining(words)]);
  }
  expect(await library()).toEqual(before);
});

test('a pack from before there were letters, cards and sponsors is taken with what a new look begins with', async () => {
  const { format, name, palette, straps } = json({}) as Record<string, unknown>;
  const old = zipSync({ 'look.json': strToU8(JSON.stringify({ format, version: 1, name, palette, straps, logo: null, backgrounds: [] })) });
  const taken = (await send('/api/looks/packs', old).expect(201)).body as LookView;
  expect(taken).toMatchObject({ palette: PALETTE, letters: OWN_LETTERS, cards: 'horizon', background: null, sponsors: [], sponsorsInCorner: false });
});

test('a station that has no room for another look is told so, and keeps nothing of the pack', async () => {
  const full = await station.person('owner', 'third');
  for (let number = 1; number <= 20; number++)
    await as('post', '/api/looks', full)
      .send({ name: `Look ${number}`, palette: PALETTE, logoId: null })
      .expect(201);
  const { body } = await send('/api/looks/packs', pack, full).expect(409);
  expect(body.words).toContain('at most 20 looks');
  expect((await library(full)).pieces).toEqual([]);
});

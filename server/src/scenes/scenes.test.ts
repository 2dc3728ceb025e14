// A station's scenes as its people change them, against the whole server.
import type { SceneDraft, SceneView } from '@lantern/contract';
import { FIRST_SCENES } from '@lantern/core';
import { TestStation } from '../test/station';
import { SceneRow } from './scene.entities';

let station: TestStation;
beforeAll(async () => (station = await TestStation.open()));
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  await station.database.getRepository(SceneRow).clear();
});

const as = (method: 'get' | 'post' | 'put' | 'delete', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const list = async () => (await as('get', '/api/scenes').expect(200)).body as SceneView[];
const names = async () => (await list()).map(({ name }) => name);
const DRAFT: SceneDraft = {
  ...{ name: 'Two at the desk', layout: 'row', card: null, straps: true, bug: false, microphones: 'open', comes: 'dissolve' },
  seats: [
    { seat: 'host', view: { zoom: 1.5, x: 0.4, y: 0.5 } },
    { seat: 'second host', view: null },
  ],
};

test('a station begins with a set of its own, and keeps what it adds, changes and takes out', async () => {
  expect((await list()).map(({ revision: _, ...scene }) => scene)).toEqual(FIRST_SCENES);
  const { body: added } = (await as('post', '/api/scenes').send(DRAFT).expect(201)) as { body: SceneView };
  expect(added).toMatchObject(DRAFT);
  await as('put', `/api/scenes/${added.id}`)
    .send({ ...DRAFT, name: 'At the desk', revision: 0 })
    .expect(200);
  await as('delete', '/api/scenes/line').expect(204);
  expect(await names()).toEqual([...FIRST_SCENES.filter(({ id }) => id !== 'line').map(({ name }) => name), 'At the desk']);
  await as('put', '/api/scenes/in-order')
    .send({ ids: [added.id, 'holding'] })
    .expect(204);
  expect((await names()).slice(0, 3)).toEqual(['At the desk', 'Holding card', 'Welcome']);
  expect((await list())[0]).toEqual({ ...DRAFT, id: added.id, name: 'At the desk', revision: 1 });
});

test('two people at one scene: nobody writes over what they have not seen', async () => {
  const change = (name: string, revision: number) =>
    as('put', '/api/scenes/together')
      .send({ ...DRAFT, name, revision })
      .then(({ status, body }) => ({ status, words: (body as { words?: string }).words }));
  const both = await Promise.all([change('Mine', 0), change('Theirs', 0)]);
  expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  expect(both.find(({ status }) => status === 409)!.words).toMatch(/Somebody else has changed/);
  expect((await list()).find(({ id }) => id === 'together')).toMatchObject({ revision: 1 });
  expect((await change('Once more', 1)).status).toBe(200);
  // Another scene is nobody's business.
  await as('put', '/api/scenes/host')
    .send({ ...DRAFT, name: 'Hello', revision: 0 })
    .expect(200);
});

test.each([
  ['no name', { name: '' }, 'Give the scene a name.'],
  ['a layout that there is not', { layout: 'heap' }, 'Choose one of the layouts.'],
  ['a seat that there is not', { seats: [{ seat: 'camera 2', view: null }] }, 'Choose who or what is seen from the list.'],
  ['two seats for one', { seats: [DRAFT.seats[1], DRAFT.seats[1]] }, 'Everybody has one seat at most.'],
  ['nobody', { seats: [] }, 'Choose who or what is seen on this scene.'],
  ['a view that is none', { seats: [{ seat: 'host', view: { zoom: 9, x: 0.5, y: 0.5 } }] }, 'A picture is enlarged 4 times at most.'],
])('%s is refused in words, and nothing changes', async (_, wrong, words) => {
  const { body, status } = await as('post', '/api/scenes').send({ ...DRAFT, ...wrong });
  expect([400, 422]).toContain(status);
  expect(JSON.stringify(body)).toContain(words);
  expect(await names()).toHaveLength(FIRST_SCENES.length);
});

test('no show is without its holding card', async () => {
  expect((await as('delete', '/api/scenes/holding').expect(409)).text).toContain('Every show begins with the holding card');
  await as('put', '/api/scenes/holding')
    .send({ ...DRAFT, revision: 0 })
    .expect(422);
  await as('delete', '/api/scenes/nowhere').expect(404);
});

test('scenes are a station’s own, and for its people alone', async () => {
  await as('get', '/api/scenes', '').expect(401);
  const moderator = await station.person('moderator');
  await as('get', '/api/scenes', moderator).expect(200);
  await as('delete', '/api/scenes/line', moderator).expect(403);
});

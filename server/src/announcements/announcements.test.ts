// Announcements that channels make by themselves, against the real stand-ins.
import type { AnnouncementDraft, ChannelView, ShowSummary, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS, wallTimeOf } from '@lantern/core';
import { StandIns } from '../test/stand-ins';
import { TestStation } from '../test/station';
import { AnnouncementsService } from './announcements.service';

let networks: StandIns;
let station: TestStation;
let town: ChannelView;
let short: ChannelView;
let library: ChannelView;
const BEGAN = Date.now();
const ZONE = 'Europe/Dublin';

beforeAll(async () => {
  networks = await StandIns.open();
  station = await TestStation.open();
  town = await networks.link(station, 'townfold', 'tf-alderfell');
  short = await networks.link(station, 'pipwire', 'pw-alderfellsky');
  library = await networks.link(station, 'reelmoor', 'rm-alderfell');
});
afterAll(async () => {
  await station.close();
  await networks.close();
});
beforeEach(() => station.forgetTries());
afterEach(async () => {
  station.travelTo(Date.now());
  await networks.operate('faults', { network: 'pipwire', fault: 'none' });
});

const say = (id: string, channel: ChannelView, text: string, time: AnnouncementDraft['time'] = HOUR_MS): AnnouncementDraft => ({
  id,
  place: '',
  text,
  time,
  channelId: channel.id,
});
let hour = 0;
async function placed(announcements: AnnouncementDraft[]): Promise<ShowView> {
  const startsAt = instant(Math.ceil(BEGAN / HOUR_MS) * HOUR_MS + 3 * DAY_MS + (hour += 2) * HOUR_MS);
  const sheet = station.draft([town.id], { ...wallTimeOf(startsAt, ZONE), zone: ZONE, announcements });
  const show = (await station.as(station.http().post('/api/shows').send(sheet)).expect(201)).body as ShowView;
  await station.as(station.http().post(`/api/shows/${show.id}/place`)).expect(200);
  return read(show);
}
const read = async ({ id }: { id: string }): Promise<ShowView> => (await station.as(station.http().get(`/api/shows/${id}`)).expect(200)).body;
const postNow = ({ id }: { id: string }, which: string) => station.as(station.http().post(`/api/shows/${id}/announcements/${which}/post`));
const tick = () => station.app.get(AnnouncementsService).tick();
/** What stands on an account's public page. */
const pageOf = async (network: string, account: string) =>
  (await fetch(`${networks.url}/${network}/${network === 'townfold' ? 'place' : 'handle'}/${account}`)).text();

test('is posted once at its time, with the link of that very place, and stands there for everybody', async () => {
  const show = await placed([say('hour', short, 'In an hour: {watch link} 🌙'), say('town', town, 'We meet at {watch link}, {start}')]);
  await tick();
  expect((await read(show)).posted).toEqual({});
  station.travelTo(show.startsAt - HOUR_MS + MINUTE_MS);
  await tick();
  await tick();
  const after = await read(show);
  expect(after.said.sort()).toEqual(['hour', 'town']);
  const url = after.posted.hour!.url!;
  const page = await (await fetch(url)).text();
  expect(page.match(/In an hour/g)).toHaveLength(1);
  // It does not go out there, so its own page is the link; on the town's page it is the event there.
  expect(page).toContain(show.houseUrl);
  expect(await (await fetch(after.posted.town!.url!)).text()).toContain(show.airings[0]!.watchUrl!);
});

test('says why where the network has no room, and is posted once it was shortened', async () => {
  const show = await placed([say('long', short, `${'sky '.repeat(70)}{house page}`)]);
  station.travelTo(show.startsAt - HOUR_MS + MINUTE_MS);
  await tick();
  const refused = await read(show);
  expect(refused.posted.long).toMatchObject({ url: null, words: expect.stringContaining('takes 270') });
  const list: ShowSummary[] = (await station.as(station.http().get('/api/shows')).expect(200)).body;
  expect(list.find(({ id }) => id === show.id)!.refusedPosts).toEqual(['long']);
  await tick(); // A refusal waits for somebody.
  await station
    .as(
      station
        .http()
        .patch(`/api/shows/${show.id}`)
        .send({ base: refused.version, changes: { announcements: [say('long', short, 'Soon: {house page}')] } }),
    )
    .expect(200);
  const { body } = await postNow(show, 'long').expect(200);
  expect(body.posted.long.url).toContain('#post-');
  expect((await postNow(show, 'long').expect(409)).body.words).toContain('already');
});

test('that got no answer is tried again and makes no second post', async () => {
  const show = await placed([say('lost', short, 'Only once, please: {house page}')]);
  station.travelTo(show.startsAt - HOUR_MS + MINUTE_MS);
  await networks.operate('faults', { network: 'pipwire', fault: 'lose-answer' });
  await tick();
  expect((await read(show)).posted).toEqual({});
  await networks.operate('faults', { network: 'pipwire', fault: 'none' });
  // It waits a little before it asks again.
  for (let at = 0; at < 100 && !(await read(show)).posted.lost; at++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    await tick();
  }
  const page = await (await fetch((await read(show)).posted.lost!.url!)).text();
  expect(page.match(/Only once, please/g)).toHaveLength(1);
});

test.each([
  ['a placeholder that nobody can fill', 'Join at {guest door}', 'guest door'],
  ['somebody’s personal link', 'Join at https://alderfell.example/on/x?pass=abc', 'not for the public'],
])('%s is never posted', async (_name, text, words) => {
  const show = await placed([say('private', town, text)]);
  expect((await postNow(show, 'private').expect(422)).body.words).toContain(words);
  expect(await pageOf('townfold', 'tf-alderfell')).not.toContain('Join at');
});

test('nothing is posted where a channel has no posts, before the show is placed, or by whoever may not plan', async () => {
  const show = await placed([say('film', library, 'On film'), say('town', town, 'To the town')]);
  expect((await postNow(show, 'film').expect(422)).body.words).toContain('takes no posts');
  await postNow(show, 'unknown').expect(404);
  const draft = (
    await station
      .as(
        station
          .http()
          .post('/api/shows')
          .send(station.draft([town.id], { announcements: [say('early', town, 'Early')] })),
      )
      .expect(201)
  ).body;
  expect((await postNow(draft, 'early').expect(409)).body.words).toContain('Place the show first');
  const moderator = await station.person('moderator');
  await station.as(station.http().post(`/api/shows/${show.id}/announcements/town/post`), moderator).expect(403);
});

test('what is said once the show is placed is said then, and the start only once it is on air', async () => {
  const show = await placed([say('placed', town, 'It is planned: {start}', 'placed'), say('start', town, 'It begins now', 'start')]);
  await tick();
  expect((await read(show)).said).toEqual(['placed']);
  station.travelTo(show.startsAt + MINUTE_MS);
  await tick();
  expect((await read(show)).said).toEqual(['placed']);
});

// What shows tell the networks and what they read back, against the real stand-ins.
import type { ChannelView, DoorView, FoundEvent, GuestPassLink, GuestView, PartnerView, PlaceResult, ShowDraft, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, wallTimeOf, type NetworkId } from '@lantern/core';
import sharp from 'sharp';
import type request from 'supertest';
import { Clock } from '../foundation/clock';
import { SpeakersService } from '../guests/speakers.service';
import { SeriesService } from '../series/series.service';
import { StandIns } from '../test/stand-ins';
import { TestStation } from '../test/station';
import { DriftService } from './drift.service';
import { Show } from '../shows/show.entities';
import { ShowsService } from '../shows/shows.service';

let station: TestStation;
let networks: StandIns;
let library: ChannelView;
let town: ChannelView;
let guild: ChannelView;
const ZONE = 'Europe/Dublin';
const BEGAN = Date.now();

beforeAll(async () => {
  networks = await StandIns.open();
  station = await TestStation.open();
  library = await networks.link(station, 'reelmoor', 'rm-alderfell');
  town = await networks.link(station, 'townfold', 'tf-alderfell');
  guild = await networks.link(station, 'guildhand', 'gh-alderfell');
});
afterAll(async () => {
  await station.close();
  await networks.close();
});
beforeEach(() => station.forgetTries());

const http = () => station.http();
const as = (test: request.Test) => station.as(test);
/** Each show an hour of its own, four days ahead, so that none gets in another's way. */
let hour = 0;
const nextHour = () => Math.ceil(BEGAN / HOUR_MS) * HOUR_MS + 4 * DAY_MS + (hour += 2) * HOUR_MS;
async function drafted(channels: ChannelView[], change: Partial<ShowDraft> = {}, startsAt = nextHour()): Promise<ShowView> {
  const when = { ...wallTimeOf(instant(startsAt), ZONE), zone: ZONE };
  const sheet = station.draft(
    channels.map(({ id }) => id),
    { ...when, description: 'The sky tonight.', ...change },
  );
  return (await as(http().post('/api/shows')).send(sheet).expect(201)).body as ShowView;
}
const post = async <T = PlaceResult>(show: { id: string }, action: string, body: object = {}, status = 200) =>
  (
    await as(http().post(`/api/shows/${show.id}/${action}`))
      .send(body)
      .expect(status)
  ).body as T;
const read = async ({ id }: { id: string }) => (await as(http().get(`/api/shows/${id}`)).expect(200)).body as ShowView;
const save = async (show: { id: string }, changes: Partial<ShowDraft>) =>
  as(http().patch(`/api/shows/${show.id}`))
    .send({ base: (await read(show)).version, changes })
    .expect(200);
async function placed(channels: ChannelView[], change: Partial<ShowDraft> = {}): Promise<ShowView> {
  const show = await drafted(channels, change);
  const { results } = await post(show, 'place');
  expect(results.map(({ words, done }) => (done ? 'done' : words))).toEqual(channels.map(() => 'done'));
  return read(show);
}
const airing = (show: ShowView, network: NetworkId) => show.airings.find(({ channel }) => channel.network === network)!;
const eventId = (show: ShowView, network: NetworkId) => new URL(airing(show, network).watchUrl!).pathname.split('/').at(-1)!;
const there = (show: ShowView, network: NetworkId, change: Record<string, string>) =>
  networks.operate('events', { network, event: eventId(show, network), ...change });
const pageOf = async (show: ShowView, network: NetworkId) => (await fetch(airing(show, network).watchUrl!)).text();

describe('a network that answers what it never agreed to', () => {
  const faults = async () => ((await http().get('/health/ready').expect(200)).body as { faults: number }).faults;
  afterEach(() => networks.operate('faults', { network: 'reelmoor', fault: 'none' }));

  test.each(['empty', 'wrong-shape', 'page'])('with %s costs its own airing, with words, and nobody else anything', async (fault) => {
    const show = await drafted([library, town]);
    const before = await faults();
    await networks.operate('faults', { network: 'reelmoor', fault });
    const { results } = await post(show, 'place');
    const of = (channel: ChannelView) => results.find(({ channelName }) => channelName.includes(channel.network === 'reelmoor' ? 'Reelmoor' : 'Townfold'))!;
    expect(of(town).done).toBe(true);
    expect(of(library)).toMatchObject({ done: false, words: expect.stringMatching(/^Reelmoor gave no answer: its? .*(agreed|could not be read)/) });
    // Its lines as well: they ended the server once.
    const lines = (await as(http().get(`/api/channels/${library.id}/lines`)).expect(200)).body as { stale: string | null };
    expect(lines.stale).toContain('Reelmoor gave no answer');
    expect(await faults()).toBe(before);
    await networks.operate('faults', { network: 'reelmoor', fault: 'none' });
    expect((await post(show, 'place')).results.every(({ done }) => done)).toBe(true);
    const found = (await as(http().get(`/api/shows/${show.id}/found?channel=${library.id}`)).expect(200)).body as FoundEvent[];
    // However often it was asked, there is one event, and it is this show's.
    expect(found.filter(({ startsAt }) => startsAt === show.startsAt)).toEqual([]);
  });
});

describe('placing', () => {
  test('tells each channel its own words, filled in, with its own address among them, and reads them back', async () => {
    const show = await drafted([library, town], {
      title: 'Dusk Report',
      description: 'No. {episode}: {watch link}',
      episode: 41,
      variants: [{ channelId: town.id, title: 'For the neighbours', description: null, choices: {} }],
    });
    const { results } = await post(show, 'place');
    expect(results.map(({ proof }) => proof)).toMatchObject([
      { title: 'Dusk Report', startsAt: show.startsAt, lengthMs: show.lengthMs, visibility: 'everyone', same: true },
      { title: 'For the neighbours', same: true },
    ]);
    const after = await read(show);
    for (const network of ['reelmoor', 'townfold'] as const) expect(await pageOf(after, network)).toContain(`No. 41: ${airing(after, network).watchUrl}`);
    expect(after.airings.map(({ untold }) => untold)).toEqual([[], []]);
  });

  test('asks for what was chosen for the show over what the channel starts with', async () => {
    const show = await placed([library], {
      variants: [
        {
          channelId: library.id,
          title: null,
          description: null,
          choices: { visibility: 'link holders', audience: 'children', tags: ['sky', 'card'], category: 'learning' },
        },
      ],
    });
    expect(airing(show, 'reelmoor')).toMatchObject({ visibility: 'link holders', placing: 'placed' });
    const page = await pageOf(show, 'reelmoor');
    for (const fact of ['for: children', 'messages: off', 'tags: sky, card', 'category: learning']) expect(page).toContain(fact);
    // A later choice is something that the channel was not told of, until it is.
    await save(show, {
      variants: [{ channelId: library.id, title: null, description: null, choices: { visibility: 'link holders', audience: 'everybody', tags: [] } }],
    });
    expect(airing(await read(show), 'reelmoor').untold).toEqual(['choices']);
    expect((await post(show, 'tell')).results).toMatchObject([{ done: true }]);
    expect(airing(await read(show), 'reelmoor').untold).toEqual([]);
    expect(await pageOf(show, 'reelmoor')).toContain('for: everybody');
  });

  test('only those channels are told that were not; one that locks the start says so, and is placed anew with another address', async () => {
    const show = await placed([town, guild]);
    await save(show, { ...wallTimeOf(instant(show.startsAt + HOUR_MS), ZONE) });
    expect((await read(show)).airings.map(({ untold }) => untold)).toEqual([['startsAt'], ['startsAt']]);
    const { results } = await post(show, 'tell');
    expect(results.map(({ done }) => done).sort()).toEqual([false, true]);
    expect(results.find(({ done }) => !done)!.words).toContain('Guildhand does not move a show that stands there');
    const before = airing(await read(show), 'guildhand');
    const replaced = await post(show, `airings/${before.id}/replace`);
    expect(replaced.results).toMatchObject([{ done: true, proof: { startsAt: show.startsAt + HOUR_MS, same: true } }]);
    expect(airing(replaced.show, 'guildhand').watchUrl).not.toBe(before.watchUrl);
    expect(await (await fetch(before.watchUrl!)).text()).toContain('ancel');
    expect((await post(show, 'tell')).results).toEqual([]); // nobody is left to be told
  });

  test('what cannot be placed anew is not withdrawn for it', async () => {
    const show = await placed([guild]);
    await save(show, { ...wallTimeOf(instant(show.startsAt + HOUR_MS), ZONE), title: 'x'.repeat(90) });
    const reply = await post<{ words: string }>(show, `airings/${airing(show, 'guildhand').id}/replace`, {}, 422);
    expect(reply.words).toContain('Guildhand takes titles of 80 characters');
    expect(airing(await read(show), 'guildhand').placing).toBe('placed');
  });

  test('where one channel objects nothing is placed anywhere, until it is said that the others alone are meant', async () => {
    const title = 'A title that two channels take, and one, which takes eighty characters, does not take';
    const show = await drafted([library, town, guild], { title });
    const words = (await post<{ words: string }>(show, 'place', {}, 422)).words;
    expect(words).toContain('Nothing was placed. Alderfell Sky Club (Guildhand): Guildhand takes titles of 80 characters');
    expect((await read(show)).airings.map(({ placing }) => placing)).not.toContain('placed');
    const others = [airing(show, 'reelmoor').id, airing(show, 'townfold').id];
    // The second press finds both standing and makes no more of them.
    for (const press of [1, 2]) {
      const { results, show: after } = await post(show, 'place', { airingIds: others });
      expect(results.map(({ done }) => done)).toEqual(press === 1 ? [true, true] : []);
      expect(airing(after, 'guildhand').placing).not.toBe('placed');
    }
    expect((await post<{ words: string }>(show, 'place', { partial: true }, 422)).words).toContain('Guildhand takes titles of 80');
  });

  test('one channel can be withdrawn from alone; what stands nowhere any more is a draft again', async () => {
    const show = await placed([library, town]);
    const first = await post(show, 'withdraw', { airingIds: [airing(show, 'townfold').id] });
    expect(first.show).toMatchObject({ state: 'placed' });
    expect(first.show.airings.map(({ placing }) => placing).sort()).toEqual(['placed', 'withdrawn']);
    expect((await post(show, 'withdraw')).show.state).toBe('draft');
  });

  test('placed anew after it was withdrawn, there is another event, and the one that was called off is not taken for it', async () => {
    const show = await placed([library, town]);
    const before = airing(show, 'townfold');
    await post(show, 'withdraw', { airingIds: [before.id] });
    const { results } = await post(show, 'place');
    expect(results).toMatchObject([{ done: true, words: 'Placed on Alderfell Sky Club (Townfold).', proof: { same: true } }]);
    const after = airing(await read(show), 'townfold');
    expect(after).toMatchObject({ placing: 'placed', drift: { gone: false } });
    expect(after.watchUrl).not.toBe(before.watchUrl);
    expect(await networks.event(eventId(await read(show), 'townfold'))).toMatchObject({ state: 'planned' });
  });

  test('an event that its network says is over or called off is never said to stand there', async () => {
    const show = await placed([library]);
    await there(show, 'reelmoor', { what: 'end' });
    await save(show, { title: 'Another title' });
    const { results } = await post(show, 'tell');
    expect(results[0]).toMatchObject({ done: false });
    expect(airing((await post(show, 'look')).show, 'reelmoor').drift!.gone).toBe(true);
  });

  test('what was chosen anew for a placed show reaches the channel and is read back: how it is played, and its line', async () => {
    const show = await placed([library]);
    const choices = { delayS: 25, rewind: true, replay: false, beginsByItself: true };
    await save(show, { variants: [{ channelId: library.id, title: null, description: null, choices }] });
    expect((await post(show, 'tell')).results).toMatchObject([{ done: true, proof: { same: true } }]);
    expect(await networks.event(eventId(show, 'reelmoor'))).toMatchObject({ delaySeconds: 25, rewindHours: 3, replay: false, beginsBy: 'picture' });
    const { body: line } = await as(http().post(`/api/channels/${library.id}/lines`))
      .send({ name: 'Hall encoder' })
      .expect(201);
    await save(show, { lines: [{ channelId: library.id, lineId: line.id }] });
    expect(airing(await read(show), 'reelmoor').untold).toEqual(['choices']);
    const before = (await networks.event(eventId(show, 'reelmoor'))).lineId;
    expect((await post(show, 'tell')).results).toMatchObject([{ done: true, proof: { same: true } }]);
    expect((await networks.event(eventId(show, 'reelmoor'))).lineId).not.toBe(before);
    expect(airing(await read(show), 'reelmoor').untold).toEqual([]);
  });

  test('what a network keeps as it is while a show is on is refused here, in words, before it is tried; the rest is told there', async () => {
    const show = await placed([library]);
    const become = (state: 'onAir' | 'placed') => station.database.getRepository(Show).update({ id: show.id }, { state, onAirSince: Date.now() });
    await become('onAir');
    const variant = { channelId: library.id, title: null, description: null };
    const { body, status } = await as(http().patch(`/api/shows/${show.id}`)).send({
      base: (await read(show)).version,
      changes: { variants: [{ ...variant, choices: { delayS: 25, rewind: false, messages: 'followers' } }] },
    });
    expect([status, (body as { words: string }).words]).toEqual([
      409,
      'Reelmoor keeps how late viewers see it and whether they may go back as they are once a show has begun there.',
    ]);
    expect(airing(await read(show), 'reelmoor').untold).toEqual([]);
    await save(show, { variants: [{ ...variant, choices: { visibility: 'link holders', messages: 'followers' } }] });
    expect((await post(show, 'tell')).results).toMatchObject([{ done: true, proof: { same: true } }]);
    expect(await networks.event(eventId(show, 'reelmoor'))).toMatchObject({ visibility: 'link-holders' });
    await become('placed');
  });

  test('another picture on air goes to each channel that takes one then, with a result each; what cannot be is said before it is tried', async () => {
    const show = await placed([library, town, guild]);
    const become = (state: 'onAir' | 'placed') => station.database.getRepository(Show).update({ id: show.id }, { state, onAirSince: Date.now() });
    const picture = async (colour: string) =>
      sharp({ create: { width: 1600, height: 900, channels: 3, background: colour } })
        .png()
        .toBuffer();
    await become('onAir');
    const put = async (colour: string, which = 'thumbnail') =>
      as(http().put(`/api/shows/${show.id}/${which}`))
        .set('content-type', 'image/png')
        .send(await picture(colour));
    expect((await put('#402020')).status).toBe(200);
    expect(new Set((await read(show)).airings.flatMap(({ untold }) => untold))).toEqual(new Set(['picture']));
    const { results } = await post(show, 'tell');
    expect(results.map(({ channelName, done }) => [channelName, done]).sort()).toEqual([
      [expect.stringContaining('Guildhand'), false],
      [expect.stringContaining('Reelmoor'), true],
      [expect.stringContaining('Townfold'), true],
    ]);
    expect(results.find(({ channelName }) => channelName.includes('Guildhand'))!.words).toBe(
      'Guildhand keeps its picture as it is once a show has begun there.',
    );
    const colourOn = async (network: NetworkId) => {
      const address = `${airing(await read(show), network).watchUrl!}/picture`;
      const reply = await fetch(address);
      if (!reply.ok) return reply.status;
      const { channels } = await sharp(Buffer.from(await reply.arrayBuffer())).stats();
      return channels[0]!.mean > channels[2]!.mean + 10;
    };
    expect([await colourOn('reelmoor'), await colourOn('townfold'), await colourOn('guildhand')]).toEqual([true, true, 404]);
    await become('placed');
  });

  test('a placed show that is moved onto another’s line is refused as placing it there would be', async () => {
    const [first, second] = [await placed([library]), await placed([library])];
    await save(second, { ...wallTimeOf(instant(first.startsAt), ZONE) });
    const { results } = await post(second, 'tell');
    expect(results).toMatchObject([{ done: false, words: expect.stringMatching(/same line|line/i) }]);
    expect(await networks.event(eventId(second, 'reelmoor'))).toMatchObject({ startsAt: second.startsAt });
  });

  test('a start that a channel keeps does not keep its title from being changed', async () => {
    const show = await placed([guild]);
    await save(show, { ...wallTimeOf(instant(show.startsAt + HOUR_MS), ZONE), title: 'A better title' });
    const { results } = await post(show, 'tell');
    expect(results[0]).toMatchObject({
      done: false,
      words: expect.stringMatching(/^Changed on Alderfell Sky Club \(Guildhand\)\. One thing stays as it is there: Guildhand does not move/),
    });
    expect(await networks.event(eventId(show, 'guildhand'))).toMatchObject({ title: 'A better title', startsAt: show.startsAt });
    expect(airing(await read(show), 'guildhand').untold).toEqual(['startsAt']);
  });

  test('a text from a channel with brackets in it is text', async () => {
    const show = await placed([library]);
    await there(show, 'reelmoor', { text: 'Bring {warm} clothes, {start} and {{tea}}.' });
    await post(show, 'look');
    await post(show, `airings/${airing(show, 'reelmoor').id}/settle`, { sides: { text: 'theirs' } });
    const taken = await read(show);
    expect(airing(taken, 'reelmoor')).toMatchObject({ untold: [], drift: { differences: [] } });
    await save(taken, { title: 'Moved along' });
    expect((await post(show, 'tell')).results).toMatchObject([{ done: true }]);
    expect(await networks.event(eventId(show, 'reelmoor'))).toMatchObject({ text: 'Bring {warm} clothes, {start} and {{tea}}.' });
  });

  test('a server that was killed in the middle of placing finds the show placed, to be withdrawn or gone on with', async () => {
    const show = await placed([library, town]);
    const shows = station.app.get(ShowsService);
    // As the kill left it: the events stand, and the show does not know.
    await station.database.query(`UPDATE shows SET state = 'draft', placedAt = NULL WHERE id = ?`, [show.id]);
    await station.database.query(`UPDATE airings SET placing = 'unsure', remoteId = NULL WHERE showId = ? AND channelId = ?`, [show.id, town.id]);
    await shows.onApplicationBootstrap();
    const found = await read(show);
    expect(found.state).toBe('placed');
    expect((await http().get(`/api/house/${show.houseUrl.split('/').at(-1)}`)).status).toBe(200);
    expect((await post(show, 'withdraw')).results.every(({ done }) => done)).toBe(true);
    for (const network of ['reelmoor', 'townfold'] as const) expect(await networks.event(eventId(show, network))).toMatchObject({ state: 'withdrawn' });
    expect(await read(show)).toMatchObject({ state: 'draft' });
  });

  test('too far ahead for one channel it waits there, and is placed by itself; what has become wrong meanwhile is refused in words', async () => {
    const [show, wrong] = [await drafted([library, town], {}, nextHour() + 20 * DAY_MS), await drafted([town], {}, nextHour() + 20 * DAY_MS)];
    const { results } = await post(show, 'place');
    expect(results.find(({ airingId }) => airingId === airing(show, 'townfold').id)!.words).toMatch(/up to 10 days ahead\. It is placed there by itself from/);
    await post(wrong, 'place');
    await save(wrong, { title: 'x'.repeat(121) });
    await station.app.get(SeriesService).tick();
    expect(airing(await read(show), 'townfold').placing).toBe('awaits reach');
    station.travelTo(BEGAN + 20 * DAY_MS);
    try {
      await station.app.get(SeriesService).tick();
      expect(airing(await read(show), 'townfold').placing).toBe('placed');
      expect(airing(await read(wrong), 'townfold')).toMatchObject({ placing: 'refused', refusal: expect.stringContaining('titles of 120 characters') });
    } finally {
      station.travelTo(Date.now());
    }
  });
});

describe('drift', () => {
  test('is found on looking, field by field, with who changed what; chosen sides win and the rest stays open', async () => {
    const show = await placed([library]);
    await there(show, 'reelmoor', { title: 'Theirs', text: 'Their text.', minutesLater: '60' });
    await save(show, { lengthMin: 50 });
    await station.app.get(DriftService).lookAtAll();
    const found = airing(await read(show), 'reelmoor');
    expect(found.untold).toEqual(['lengthMs']);
    expect(found.drift!.differences.map(({ field, changed }) => [field, changed])).toEqual([
      ['title', 'there'],
      ['text', 'there'],
      ['startsAt', 'there'],
    ]);
    await post(show, `airings/${found.id}/settle`, { sides: { text: 'ours' } });
    const half = await read(show);
    expect(airing(half, 'reelmoor').drift!.differences.map(({ field }) => field)).toEqual(['title', 'startsAt']);
    expect(await pageOf(half, 'reelmoor')).toContain('Theirs');
    await post(show, `airings/${found.id}/settle`, { sides: { title: 'theirs', startsAt: 'theirs' } });
    const settled = await read(show);
    expect(settled).toMatchObject({ title: show.title, startsAt: show.startsAt + HOUR_MS });
    expect(airing(settled, 'reelmoor')).toMatchObject({ title: 'Theirs', drift: { differences: [] }, untold: ['lengthMs'] });
    await post(show, 'tell');
    expect(airing(await read(show), 'reelmoor')).toMatchObject({ untold: [], drift: { gone: false, differences: [] } });
  });

  test('what was chosen there behind our back is found too, and either side wins', async () => {
    const show = await placed([library]);
    await there(show, 'reelmoor', { adverts: 'yes' });
    await post(show, 'look');
    const found = airing(await read(show), 'reelmoor');
    expect(found.drift!.differences).toEqual([{ field: 'choices', ours: { adverts: false }, theirs: { adverts: true }, changed: 'there' }]);
    await post(show, `airings/${found.id}/settle`, { sides: { choices: 'ours' } });
    expect(airing((await post(show, 'look')).show, 'reelmoor').drift!.differences).toEqual([]);
    expect(await pageOf(show, 'reelmoor')).toContain('adverts: no');
    await there(show, 'reelmoor', { adverts: 'yes' });
    await post(show, 'look');
    await post(show, `airings/${found.id}/settle`, { sides: { choices: 'theirs' } });
    expect(airing(await read(show), 'reelmoor')).toMatchObject({ choices: { adverts: true }, drift: { differences: [] } });
  });

  test('a show is shared on where its network knows that, own groups at once and partners once they agree, and their answer is seen', async () => {
    const partners = (await as(http().get(`/api/channels/${town.id}/partners`)).expect(200)).body as PartnerView[];
    expect(partners).toEqual(
      expect.arrayContaining([
        { id: 'tf-noticeboard', name: 'Fell Valley Noticeboard', own: true },
        { id: 'tf-library', name: 'Fell Valley Library', own: false },
      ]),
    );
    expect((await as(http().get(`/api/channels/${library.id}/partners`)).expect(200)).body).toEqual([]);
    const sharing = { with: ['tf-library', 'tf-noticeboard'], when: 'at placing' as const };
    const show = await placed([town], { variants: [{ channelId: town.id, title: 'The moon, shared', description: null, choices: { sharing } }] });
    const page = async (place: string) => (await fetch(`${networks.url}/townfold/place/${place}`)).text();
    const shares = async () =>
      airing((await post(show, 'look')).show, 'townfold')
        .shares.map(({ name, answer }) => [name, answer])
        .sort();
    expect(await shares()).toEqual([
      ['Fell Valley Library', 'asked'],
      ['Fell Valley Noticeboard', 'accepted'],
    ]);
    expect([(await page('tf-noticeboard')).includes('The moon, shared'), (await page('tf-library')).includes('The moon, shared')]).toEqual([true, false]);
    await networks.operate('shares', { network: 'townfold', event: eventId(show, 'townfold'), place: 'tf-library', answer: 'accepted' });
    expect((await shares())[0]).toEqual(['Fell Valley Library', 'accepted']);
    expect(await page('tf-library')).toContain('The moon, shared');
    expect(airing(await read(show), 'townfold').drift!.differences).toEqual([]);
    // From the start on: not before it, whatever they said.
    await save(show, {
      variants: [{ channelId: town.id, title: 'The moon, shared', description: null, choices: { sharing: { ...sharing, when: 'at the start' } } }],
    });
    expect((await post(show, 'tell')).results).toMatchObject([{ done: true, proof: { same: true } }]);
    expect(await page('tf-library')).not.toContain('The moon, shared');
    // Nowhere that is no partner.
    await save(show, { variants: [{ channelId: town.id, title: null, description: null, choices: { sharing: { ...sharing, with: ['tf-alderfell'] } } }] });
    expect((await post(show, 'tell')).results).toMatchObject([{ done: false }]);
  });

  test('their start moves the show, and the other channels are then known not to have been told', async () => {
    const show = await placed([library, town]);
    await there(show, 'townfold', { minutesLater: '30' });
    await post(show, 'look');
    await post(show, `airings/${airing(show, 'townfold').id}/settle`, { sides: { startsAt: 'theirs' } });
    const moved = await read(show);
    expect(moved.startsAt).toBe(show.startsAt + HOUR_MS / 2);
    expect([airing(moved, 'townfold').untold, airing(moved, 'reelmoor').untold]).toEqual([[], ['startsAt']]);
  });

  test('an event that vanished is said, can be let go, and is placed anew; one that is silent is no drift', async () => {
    const show = await placed([town]);
    await networks.operate('faults', { network: 'townfold', fault: 'down' });
    const silent = await post(show, 'look');
    expect(silent.results).toMatchObject([{ done: false, words: expect.stringContaining('Townfold gave no answer') }]);
    expect(airing(silent.show, 'townfold').drift!.gone).toBe(false);
    await networks.operate('faults', { network: 'townfold', fault: 'none' });
    const { id } = airing(show, 'townfold');
    await post(show, `airings/${id}/forget`, {}, 409); // it still stands there
    await there(show, 'townfold', { what: 'forget' });
    expect(airing((await post(show, 'look')).show, 'townfold').drift).toMatchObject({ gone: true, differences: [] });
    expect(await post<ShowView>(show, `airings/${id}/forget`)).toMatchObject({ state: 'draft' });
    expect((await post(show, 'place')).results).toMatchObject([{ done: true, proof: { same: true } }]);
  });

  test('nonsense instead of sides is refused, and settling what was never looked at too', async () => {
    const show = await placed([library]);
    const { id } = airing(show, 'reelmoor');
    await post(show, `airings/${id}/settle`, { sides: { title: 'mine' } }, 422);
    await post(await drafted([library]), `airings/${id}/settle`, { sides: { title: 'ours' } }, 409);
  });
});

describe('an event that exists already', () => {
  test('gives a show that stands elsewhere a variant, and moves nothing unasked', async () => {
    const made = await placed([library], { title: 'Made there' });
    const id = eventId(made, 'reelmoor');
    await as(http().post(`/api/channels/${library.id}/unlink`)).expect(204);
    library = await networks.link(station, 'reelmoor', 'rm-alderfell');
    const found = (await as(http().get(`/api/shows/${made.id}/found?channel=${library.id}`)).expect(200)).body as FoundEvent[];
    expect(found.map(({ remoteId }) => remoteId)).toContain(id);
    const elsewhere = await placed([town], { title: 'Stands elsewhere' });
    const attached = await post<ShowView>(elsewhere, 'attach', { channelId: library.id, remoteId: id });
    expect(attached).toMatchObject({ title: 'Stands elsewhere', startsAt: elsewhere.startsAt });
    expect(airing(attached, 'reelmoor')).toMatchObject({ title: 'Made there', placing: 'placed' });
    // Its time is another: nothing is moved unasked, and the sheet says what differs.
    expect(airing(attached, 'reelmoor').untold).toEqual(['startsAt']);
    const reply = await post<{ words: string }>(await drafted([library]), 'attach', { channelId: library.id, remoteId: 'no-such-event' }, 404);
    expect(reply.words).toContain('not on Alderfell Sky Club (Reelmoor) any more');
  });
});

describe('speakers, where a network names them on its page', () => {
  const guestsOf = async (show: ShowView) => (await as(http().get(`/api/shows/${show.id}/guests`))).body as GuestView[];
  const words = async (show: ShowView) => (await guestsOf(show)).map(({ name, onPages }) => [name, ...onPages.map((each) => each.words)]);
  const ask = (show: ShowView, name: string) =>
    as(http().post(`/api/shows/${show.id}/guests`))
      .send({ name, caption: 'meteor watcher' })
      .expect(201);
  const tick = () => station.app.get(SpeakersService).tick();
  async function doorOf(show: ShowView, name: string): Promise<DoorView> {
    const guest = (await guestsOf(show)).find((each) => each.name === name)!;
    const { url } = (await as(http().post(`/api/shows/${show.id}/guests/${guest.id}/pass`)).send({})).body as GuestPassLink;
    return (
      await http()
        .post('/api/door')
        .send({ pass: url.split('#')[1] })
    ).body as DoorView;
  }

  test('whoever was asked is invited there with the show, answers there by the door, and is named only then', async () => {
    const show = await placed([guild, library]);
    await ask(show, 'Tomasz Wren');
    await tick();
    expect(await words(show)).toEqual([['Tomasz Wren', 'Invited at Guildhand, and named there once they have said yes there too.']]);
    expect(await pageOf(show, 'guildhand')).not.toContain('Tomasz Wren');
    const [page] = (await doorOf(show, 'Tomasz Wren')).onPages;
    expect(page).toMatchObject({ answer: 'invited' });
    await fetch(page!.url, { method: 'POST', body: new URLSearchParams({ answer: 'accepted' }) });
    expect(await pageOf(show, 'guildhand')).toContain('<b>Tomasz Wren</b>, meteor watcher');
    // Read back by itself within a minute.
    await station.database.query('UPDATE speakers_there SET readAt = 0');
    await tick();
    expect(await words(show)).toEqual([['Tomasz Wren', 'Named on the page at Guildhand.']]);
    // Whose pass is withdrawn is not named there any more.
    const guest = (await guestsOf(show))[0]!;
    await as(http().delete(`/api/shows/${show.id}/guests/${guest.id}`)).expect(200);
    await tick();
    expect(await pageOf(show, 'guildhand')).not.toContain('Tomasz Wren');
  });

  test('a network that does not answer is asked again later and said nothing of; a name that it refuses is told with its words', async () => {
    const show = await placed([guild]);
    await ask(show, 'Juno Hartsel');
    await networks.operate('faults', { network: 'guildhand', fault: 'down' });
    await tick();
    expect(await words(show)).toEqual([['Juno Hartsel']]);
    await networks.operate('faults', { network: 'guildhand', fault: 'none' });
    // Left alone for a while first.
    await tick();
    expect(await words(show)).toEqual([['Juno Hartsel']]);
    await ask(show, 'x'.repeat(70));
    const clock = station.app.get(Clock);
    const now = clock.now();
    const later = jest.spyOn(clock, 'now').mockReturnValue((now + 61_000) as never);
    await tick();
    later.mockRestore();
    expect((await words(show))[0]).toEqual(['Juno Hartsel', expect.stringContaining('60 characters at most')]);
  });
});

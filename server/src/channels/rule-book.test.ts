// Announced rules: kept, laid over the sheets from their day on, and held against the shows to come.
import { DAY_MS, instant, MINUTE_MS, type Instant, type RuleNotice, type ShowFacts } from '@lantern/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import type { Clock } from '../foundation/clock';
import { openDatabase } from '../database/database';
import type { Settings } from '../foundation/settings';
import type { ChannelAccessService } from './access.service';
import type { Channel } from './channel.entities';
import { NetworkSilence } from './connectors/connector';
import { ChannelRows } from './channel-rows';
import { RuleBookService } from './rule-book.service';

const NOW = instant(Date.UTC(2026, 10, 24, 18));
const folder = mkdtempSync(join(tmpdir(), 'lantern-rules-'));
const channel = { network: 'townfold', kind: 'page', name: 'Alderfell Sky Club', limits: null } as Channel;
let database: DataSource;
let now: Instant = NOW;
let told: RuleNotice[] | null = [];
let book: RuleBookService;

beforeAll(async () => {
  database = await openDatabase({ dataDir: folder } as Settings);
});
afterAll(async () => {
  await database.destroy();
  rmSync(folder, { recursive: true, force: true });
});
const open = async () => {
  const notices = async () => told ?? Promise.reject(new NetworkSilence('it is busy'));
  const access = { connector: () => ({ notices }), publicRequest: () => async () => ({}) } as unknown as ChannelAccessService;
  const opened = new RuleBookService(database, new ChannelRows(database), access, { now: () => now } as Clock);
  await opened.onApplicationBootstrap();
  opened.onApplicationShutdown();
  return opened;
};
beforeEach(async () => {
  now = NOW;
  told = [{ id: 'n', limit: 'titleMax', value: 40, from: instant(NOW + 3 * DAY_MS) }];
  book = await open();
  await book.ask('townfold');
});

const show = (title: string, inDays: number): { id: string; title: string; zone: string; facts: ShowFacts } => ({
  id: title.slice(0, 3),
  title,
  zone: 'Europe/Dublin',
  facts: {
    title,
    description: '',
    startsAt: instant(NOW + inDays * DAY_MS + 30 * MINUTE_MS),
    lengthMs: 40 * MINUTE_MS,
    thumbnail: { width: 1600, height: 900 },
    thumbnailAlternative: '',
    placedAt: null,
  },
});

test('a change is the rule from its day on, and not before', () => {
  expect(book.rules(channel).titleMax).toBe(120);
  expect(book.coming(channel)).toHaveLength(1);
  now = instant(NOW + 3 * DAY_MS);
  expect(book.rules(channel)).toMatchObject({ titleMax: 40, asOf: '2026-11-27' });
  expect(book.coming(channel)).toEqual([]);
  expect(book.rules({ ...channel, network: 'reelmoor', kind: 'library channel' }).titleMax).toBe(100);
});

test('the shows that a change touches are named with what to do; earlier and shorter ones are not', () => {
  const long = 'The Occultation of Vesta’s Lamp, seen from the fell';
  const [change] = book.changes(channel, [show(long, 5), show(`Earlier: ${long}`, 2), show('Dusk Report', 5)]);
  expect(change).toMatchObject({ words: 'Townfold takes titles of 40 characters.', from: NOW + 3 * DAY_MS });
  expect(change!.shows).toMatchObject([{ title: long, whatToDo: 'Townfold takes titles of 40 characters; this one has 51.' }]);
});

test('what was announced outlives the server, and a network that is silent takes nothing back', async () => {
  expect((await open()).coming(channel)).toMatchObject([{ limit: 'titleMax', value: 40 }]);
  told = null;
  await expect(book.ask('townfold')).rejects.toThrow('busy');
  expect(book.coming(channel)).toHaveLength(1);
  told = [];
  await book.ask('townfold');
  expect(book.coming(channel)).toEqual([]);
});

test('a change that has long been in force is no news', () => {
  now = instant(NOW + 30 * DAY_MS);
  expect(book.changes(channel, [])).toEqual([]);
});

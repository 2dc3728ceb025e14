// The same cases for every network, through its connector, against the real stand-ins.
import 'reflect-metadata';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { ourWords } from '../access.service';
import { Test } from '@nestjs/testing';
import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { AppModule as Networks } from '../../../../networks/src/app.module';
import { configureHttp } from '../../../../networks/src/http';
import {
  asItWillStand,
  defaultsFor,
  differencesOf,
  messageRules,
  MINUTE_MS,
  rulesFor,
  settingsFor,
  wordingFor,
  WRITING_LIMITS,
  writingOffered,
  type AccountKind,
  type AiringChoices,
  type AiringSettings,
  type NetworkId,
} from '@lantern/core';
import { AccessEnded, NetworkRefusal, NetworkSilence, type Access, type AiringOrder, type Connector, type MessageThere } from './connector';
import { GuildhandConnector } from './guildhand.connector';
import { ask, bodyOrError, patiently } from './network-http';
import { NetworkSocket } from './network-socket';
import { PipwireConnector } from './pipwire.connector';
import { ReelmoorConnector } from './reelmoor.connector';
import { TownfoldConnector } from './townfold.connector';

const folder = mkdtempSync(join(tmpdir(), 'lantern-connectors-'));
const REDIRECT = 'http://localhost:4700/api/channels/links/return';
let app: NestExpressApplication;
let url = '';

interface Case {
  connector: Connector;
  kind: AccountKind;
  good: string;
  /** An account that does not meet the conditions, and what would mend it. */
  bad: string;
  remedy: Record<string, string>;
}
const CASES: [string, Case][] = [
  [
    'Reelmoor',
    {
      connector: new ReelmoorConnector(),
      kind: 'library channel',
      good: 'rm-alderfell',
      bad: 'rm-junior',
      remedy: { phoneVerified: 'yes', askedDaysAgo: '2' },
    },
  ],
  ['Townfold', { connector: new TownfoldConnector(), kind: 'group', good: 'tf-noticeboard', bad: 'tf-walks', remedy: { groupAllows: 'yes' } }],
  ['Guildhand', { connector: new GuildhandConnector(), kind: 'organisation', good: 'gh-alderfell', bad: 'gh-maren', remedy: { connections: '60' } }],
  ['Pipwire', { connector: new PipwireConnector(), kind: 'handle', good: 'pw-alderfellsky', bad: 'pw-juniordome', remedy: { followers: '101' } }],
];
/** Something of everything that any of them asks. */
const CHOSEN: AiringChoices = {
  ...{ audience: 'adults', messages: 'followers', category: 'science', language: 'cy', delayS: 10, rewind: false, replay: false },
  ...{ tags: ['sky', 'dusk'], embedding: false, paidMention: true, licence: 'CC BY 4.0', listedDays: 3, adverts: true, keepsMessages: false },
  ...{ playlist: 'Dusk Report', countries: { rule: 'only in', of: ['IE', 'GB'] } },
};
const tokens = new Map<string, string>();

beforeAll(async () => {
  Object.assign(process.env, { LANTERN_NETWORKS_DATA: folder, LANTERN_NETWORKS_RTMP_PORT: '0' });
  delete process.env.LANTERN_CLOCK_FILE;
  const module = await Test.createTestingModule({ imports: [Networks] }).compile();
  app = module.createNestApplication<NestExpressApplication>({ logger: false, forceCloseConnections: true });
  configureHttp(app);
  await app.listen(0, '127.0.0.1');
  url = `http://127.0.0.1:${(app.getHttpServer().address() as AddressInfo).port}`;
  for (const [, { connector }] of CASES) {
    tokens.set(connector.network, await grant(connector.network, 'maren', 'lantern-light'));
    tokens.set(`${connector.network} stranger`, await grant(connector.network, 'stranger', 'somebody-else'));
  }
});
afterAll(async () => {
  await app.close();
  rmSync(folder, { recursive: true, force: true });
});
afterEach(async () => {
  for (const [, { connector }] of CASES) await operate('faults', { network: connector.network, fault: 'none' });
});

async function grant(network: NetworkId, name: string, password: string): Promise<string> {
  const verifier = randomBytes(32).toString('base64url');
  const query = new URLSearchParams({
    response_type: 'code',
    client_id: 'noble-lantern',
    redirect_uri: REDIRECT,
    state: 's',
    code_challenge: createHash('sha256').update(verifier).digest('base64url'),
    code_challenge_method: 'S256',
  });
  const form = (path: string, fields: Record<string, string>) =>
    fetch(`${url}/${network}/oauth/${path}`, { method: 'POST', redirect: 'manual', body: new URLSearchParams(fields) });
  const consented = await form(`consent?${query}`, { name, password, answer: 'allow' });
  const code = new URL(consented.headers.get('location')!).searchParams.get('code')!;
  const reply = await form('token', { client_id: 'noble-lantern', redirect_uri: REDIRECT, grant_type: 'authorization_code', code, code_verifier: verifier });
  return ((await reply.json()) as { access_token: string }).access_token;
}

async function operate(action: string, fields: Record<string, string>): Promise<void> {
  await fetch(`${url}/operator/${action}`, { method: 'POST', redirect: 'manual', body: new URLSearchParams(fields) });
}

/** Short limits and waits: what is tested here is what becomes of an answer, not how long one waits for it. */
function access({ connector, good }: Case, remoteId = good, token = tokens.get(connector.network)!): Access {
  return {
    remoteId,
    request: (path, options) =>
      patiently(
        options,
        async () => bodyOrError(await ask(url + path, token, { ...options, timeoutMs: 5_000 }), connector.readRefusal, options.reply),
        (ms) => new Promise((done) => setTimeout(done, ms === 1_000 ? ms : 5)), // only a wait that was asked for is kept
      ),
    socket: (path) => NetworkSocket.open(url.replace('http', 'ws') + path, token),
  };
}

let hour = 0;
async function order({ connector, kind, good }: Case, change: Partial<AiringOrder> = {}, title = 'Dusk Report'): Promise<AiringOrder> {
  const rules = rulesFor(connector.network, kind);
  const lines = (await connector.lasting?.list(access(CASES.find(([, each]) => each.connector === connector)![1], good))) ?? [];
  const line = lines[0] ?? (await connector.lasting?.make?.(access(CASES[0]![1]), 'Hall')) ?? null;
  const inHours = Math.ceil(Date.now() / 3_600_000 + 2 + ++hour) * 3_600_000;
  return {
    wording: wordingFor({ title, description: 'The sky tonight.' }, rules),
    startsAt: rules.maySchedule ? inHours : null,
    lengthMs: 40 * MINUTE_MS,
    visibility: rules.visibilities[0]!,
    settings: settingsFor({}, defaultsFor(rules), rules),
    remoteLineId: line?.remoteId ?? null,
    picture: null,
    ...change,
  };
}

describe.each(CASES)('%s', (_name, it) => {
  const { connector } = it;

  test('names the accounts of a sign-in, and only those', async () => {
    const identities = await connector.identities(access(it).request);
    expect(identities.map(({ id }) => id)).toEqual(expect.arrayContaining([it.good, it.bad]));
    expect(identities.find(({ id }) => id === it.good)).toMatchObject({ kind: it.kind, pictureUrl: expect.stringContaining(it.good) });
    const strangers = await connector.identities(access(it, it.good, tokens.get(`${connector.network} stranger`)).request);
    expect(strangers.map(({ id }) => id)).not.toContain(it.good);
  });

  test('tells whether an account may broadcast, refuses one that may not, and takes it once it may', async () => {
    const bad = access(it, it.bad);
    const kind = connector.network === 'guildhand' ? 'member' : it.kind;
    expect((await connector.conditions(access(it), it.kind, Date.now())).map(({ state }) => state)).not.toContain('unmet');
    expect((await connector.conditions(bad, kind, Date.now())).some(({ state }) => state === 'unmet')).toBe(true);
    const its = await order(it, { remoteLineId: (await connector.lasting?.make?.(bad, 'Dome'))?.remoteId ?? null });
    await expect(connector.place(bad, its, randomBytes(8).toString('hex'))).rejects.toMatchObject({ reason: 'not-eligible' });
    expect(ourWords(connector, 'not-eligible')).toContain('what is missing');
    // A network may call a reason what every object has.
    for (const odd of ['constructor', '__proto__', 'toString']) expect(ourWords(connector, odd)).toBeNull();
    await operate('accounts', { account: it.bad, ...it.remedy });
    expect((await connector.conditions(bad, kind, Date.now())).map(({ state }) => state)).not.toContain('unmet');
    const placed = await connector.place(bad, its, randomBytes(8).toString('hex'));
    await connector.withdraw(bad, placed.remoteId);
  });

  test('places once, however often it is asked; reports, changes and withdraws', async () => {
    const mine = access(it);
    const once = randomBytes(8).toString('hex');
    const first = await connector.place(mine, await order(it), once);
    const again = await connector.place(mine, await order(it, {}, 'Another title'), once);
    expect(again).toEqual(first);
    expect((await fetch(first.watchUrl.replace(/^http:\/\/[^/]+/, url))).status).toBe(200);
    expect(await connector.report(mine, first.remoteId)).toMatchObject({ event: 'planned', pictureArrives: false });
    if (connector.network === 'pipwire') await expect(connector.change(mine, first.remoteId, await order(it))).rejects.toMatchObject({ reason: 'locked' });
    else await connector.change(mine, first.remoteId, { ...(await order(it, {}, 'Later')), startsAt: null });
    await connector.withdraw(mine, first.remoteId);
    await connector.withdraw(mine, first.remoteId); // a second time does no harm
    expect(await connector.report(mine, first.remoteId)).toMatchObject({ event: 'withdrawn' });
  });

  test('shows what stands there, also what somebody else changed or made, and says when it is gone', async () => {
    if (!connector.look) return expect(rulesFor(connector.network, it.kind).maySchedule).toBe(false);
    const mine = access(it);
    const its = await order(it, { visibility: rulesFor(connector.network, it.kind).visibilities.at(-1)! });
    const { remoteId, watchUrl } = await connector.place(mine, its, randomBytes(8).toString('hex'));
    const { wording, startsAt, lengthMs, visibility } = its;
    const facts = expect.objectContaining({ title: wording.title, text: wording.text, startsAt, lengthMs, visibility });
    const placed = { remoteId, watchUrl, state: 'planned', facts };
    expect(await connector.look(mine, remoteId)).toMatchObject(placed);
    expect(await connector.planned!(mine)).toContainEqual(expect.objectContaining(placed));
    await operate('events', { network: connector.network, event: remoteId, title: 'Somebody was here', minutesLater: '60' });
    expect((await connector.look(mine, remoteId))!.facts).toMatchObject({ title: 'Somebody was here', startsAt: startsAt! + 3_600_000 });
    await connector.withdraw(mine, remoteId);
    expect(await connector.look(mine, remoteId)).toMatchObject({ state: expect.stringMatching('withdrawn|over') });
    await operate('events', { network: connector.network, event: remoteId, what: 'forget' });
    expect(await connector.look(mine, remoteId)).toBeNull();
    expect((await connector.planned!(mine)).map((event) => event.remoteId)).not.toContain(remoteId);
  });

  test('stands as it was chosen, as far as the network tells, and as it is chosen anew', async () => {
    if (!connector.look) return;
    const mine = access(it);
    const rules = rulesFor(connector.network, it.kind);
    const chosen = settingsFor(CHOSEN, defaultsFor(rules), rules);
    const its = await order(it, { settings: chosen });
    const { remoteId } = await connector.place(mine, its, randomBytes(8).toString('hex'));
    const told = (settings: AiringSettings) => ({ facts: { choices: asItWillStand(settings) } });
    const apart = async (settings: AiringSettings) => {
      const there = (await connector.look!(mine, remoteId))!.facts;
      return differencesOf({ ...there, ...told(settings).facts }, there, null);
    };
    expect(await apart(chosen)).toEqual([]);
    const other = settingsFor(
      { ...CHOSEN, audience: 'everybody', adverts: false, countries: { rule: 'everywhere but in', of: ['FR'] } },
      defaultsFor(rules),
      rules,
    );
    const asked = rules.audiences.length > 0;
    expect((await apart(other)).length).toBe(asked ? 1 : 0);
    await connector.change(mine, remoteId, { ...its, settings: other });
    expect(await apart(other)).toEqual([]);
    await connector.withdraw(mine, remoteId);
  });

  test('takes a rendition of its own shape', async () => {
    const rule = rulesFor(connector.network, it.kind).thumbnail!;
    const picture = async (width: number, height: number) => ({
      jpeg: await sharp({ create: { width, height, channels: 3, background: '#123' } })
        .jpeg()
        .toBuffer(),
      words: 'The dome.',
    });
    const good = await picture(rule.minWidth, rule.minHeight);
    const mine = access(it);
    const placed = await connector.place(mine, await order(it, { picture: good }), randomBytes(8).toString('hex'));
    await connector.setThumbnail(mine, placed.remoteId, good);
    expect((await fetch(`${placed.watchUrl.replace(/^http:\/\/[^/]+/, url)}/picture`)).headers.get('content-type')).toBe('image/jpeg');
    if (connector.network !== 'pipwire') {
      await expect(connector.setThumbnail(mine, placed.remoteId, await picture(900, 900))).rejects.toBeInstanceOf(NetworkRefusal);
    }
    await connector.withdraw(mine, placed.remoteId);
  });

  test('says something once, however often it is asked, where a network has posts; keeps to its limits and its accounts', async () => {
    expect(rulesFor(connector.network, it.kind).posts).toBe(connector.post !== undefined);
    if (!connector.post) return;
    const once = randomBytes(8).toString('hex');
    const at = await connector.post(access(it), `Tonight ${once} https://alderfell.example/s/dusk`, once);
    expect(await connector.post(access(it), `Tonight ${once} https://alderfell.example/s/dusk`, once)).toBe(at);
    const page = await (await fetch(url + new URL(at).pathname)).text();
    expect(page.split(`Tonight ${once}`)).toHaveLength(2);
    await expect(connector.post(access(it), 'x'.repeat(3_000), randomBytes(8).toString('hex'))).rejects.toBeInstanceOf(NetworkRefusal);
    await expect(
      connector.post(access(it, it.good, tokens.get(`${connector.network} stranger`)), 'Not mine', randomBytes(8).toString('hex')),
    ).rejects.toMatchObject({
      status: 403,
    });
  });

  test('gives the line of an event, and another key when that is rotated', async () => {
    const mine = access(it);
    const placed = await connector.place(mine, await order(it), randomBytes(8).toString('hex'));
    const before = await connector.line(mine, placed.remoteId);
    expect(before.address).toMatch(/^rtmp:\/\//);
    expect(before.key.length).toBeGreaterThan(15);
    await connector.rotateEventLine(mine, placed.remoteId);
    const after = await connector.line(mine, placed.remoteId);
    expect(after.address).toBe(before.address);
    expect(after.key).not.toBe(before.key);
    await connector.withdraw(mine, placed.remoteId);
  });

  test('refuses too many words in its own, and another’s account', async () => {
    const { titleMax, textMax } = rulesFor(connector.network, it.kind);
    const wording = { title: 'x'.repeat((titleMax ?? 0) + 1), text: 'x'.repeat(textMax! + 1), shortened: false };
    const refused = await connector.place(access(it), await order(it, { wording }), randomBytes(8).toString('hex')).catch((error: unknown) => error);
    expect(refused).toBeInstanceOf(NetworkRefusal);
    expect((refused as NetworkRefusal).words).toMatch(/^[A-Z].*\.$/);
    const foreign = access(it, it.good, tokens.get(`${connector.network} stranger`));
    await expect(connector.place(foreign, await order(it), randomBytes(8).toString('hex'))).rejects.toMatchObject({ reason: 'not-yours' });
  });

  test('tells announced limits in our units, and no unannounced ones', async () => {
    const limit = connector.network === 'pipwire' ? 'text' : 'title';
    await operate('limits', { network: connector.network, limit, value: '61', inDays: '3', announced: 'yes' });
    await operate('limits', { network: connector.network, limit: 'longest', value: '1', inDays: '3', announced: 'no' });
    const [notice, ...others] = await connector.notices(access(it).request);
    expect(notice).toMatchObject({ limit: limit === 'text' ? 'textMax' : 'titleMax', value: 61 });
    expect(Math.abs(notice!.from - Date.now() - 3 * 86_400_000)).toBeLessThan(60_000);
    expect(others).toEqual([]);
    await operate('limits/as-at-first', { network: connector.network });
  });

  test.each(['down', 'broken', 'busy-unsaid', 'page', 'half'])('whatever it answers while it is "%s", it is a silence, and nothing is made', async (fault) => {
    const its = await order(it);
    const once = randomBytes(8).toString('hex');
    await operate('faults', { network: connector.network, fault });
    await expect(connector.place(access(it), its, once)).rejects.toBeInstanceOf(NetworkSilence);
    await expect(connector.identities(access(it).request)).rejects.toBeInstanceOf(NetworkSilence);
    await operate('faults', { network: connector.network, fault: 'none' });
    const placed = await connector.place(access(it), its, once);
    await connector.withdraw(access(it), placed.remoteId);
  });

  test.each(['page', 'empty', 'wrong-shape', 'half'])('no call takes a "%s" for an answer', async (fault) => {
    const its = await order(it);
    const mine = access(it);
    const { remoteId } = await connector.place(mine, its, randomBytes(8).toString('hex'));
    const line = (await connector.lasting?.list(mine))?.[0]?.remoteId ?? 'none';
    const jpeg = await sharp({ create: { width: 1_280, height: 720, channels: 3, background: '#123' } })
      .jpeg()
      .toBuffer();
    await operate('faults', { network: connector.network, fault });
    let asked = 0;
    const counting: Access = { ...mine, request: (path, options) => (asked++, mine.request(path, { ...options, tries: 1 })) };
    const calls: Record<string, (() => Promise<unknown>) | undefined> = {
      identities: () => connector.identities(counting.request),
      conditions: () => connector.conditions(counting, it.kind, Date.now()),
      askToBroadcast: connector.askToBroadcast && (() => connector.askToBroadcast!(counting)),
      notices: () => connector.notices(counting.request),
      list: connector.lasting?.list && (() => connector.lasting!.list(counting)),
      make: connector.lasting?.make && (() => connector.lasting!.make!(counting, 'Loft')),
      rename: connector.lasting?.rename && (() => connector.lasting!.rename!(counting, line, 'Cellar')),
      rotate: connector.lasting?.rotate && (() => connector.lasting!.rotate(counting, line)),
      rotateEventLine: () => connector.rotateEventLine(counting, remoteId),
      line: () => connector.line(counting, remoteId),
      place: () => connector.place(counting, its, randomBytes(8).toString('hex')),
      change: () => connector.change(counting, remoteId, { ...its, startsAt: null }),
      setThumbnail: () => connector.setThumbnail(counting, remoteId, { jpeg, words: 'The dome.' }),
      post: connector.post && (() => connector.post!(counting, 'Tonight', randomBytes(8).toString('hex'))),
      look: connector.look && (() => connector.look!(counting, remoteId)),
      planned: connector.planned && (() => connector.planned!(counting)),
      report: () => connector.report(counting, remoteId),
      start: () => connector.start(counting, remoteId),
      end: () => connector.end(counting, remoteId),
      withdraw: () => connector.withdraw(counting, remoteId),
      write: () => connector.messages.write(counting, remoteId, 'Good evening', null, randomBytes(8).toString('hex')),
      setHidden: () => connector.messages.setHidden(counting, 'x', false),
      follow: () => connector.messages.follow(counting, remoteId, '', () => Promise.reject(new Error('kept what is none')), AbortSignal.timeout(1_000)),
    };
    const wrong: string[] = [];
    for (const [name, call] of Object.entries(calls)) {
      if (!call) continue;
      asked = 0;
      const outcome = await call().catch((error: unknown) => error);
      // A no is as good as a silence: in its own shape it was agreed, and where nothing is asked there is nothing to answer.
      if (asked && !(outcome instanceof NetworkSilence || outcome instanceof NetworkRefusal)) wrong.push(name);
    }
    expect(wrong).toEqual([]);
    await operate('faults', { network: connector.network, fault: 'none' });
    await connector.withdraw(mine, remoteId);
  });

  test('a busy first try is waited for, and an answer that is lost leads to the same event', async () => {
    const its = await order(it);
    await operate('faults', { network: connector.network, fault: 'busy' });
    const placed = await connector.place(access(it), its, randomBytes(8).toString('hex'));
    expect(await connector.report(access(it), placed.remoteId).catch(() => connector.report(access(it), placed.remoteId))).toMatchObject({ event: 'planned' });
    await operate('faults', { network: connector.network, fault: 'none' });
    await connector.withdraw(access(it), placed.remoteId);

    const once = randomBytes(8).toString('hex');
    await operate('faults', { network: connector.network, fault: 'lose-answer' });
    await expect(connector.place(access(it), its, once)).rejects.toBeInstanceOf(NetworkSilence);
    await operate('faults', { network: connector.network, fault: 'none' });
    const found = await connector.place(access(it), its, once);
    expect(await connector.report(access(it), found.remoteId)).toMatchObject({ event: 'planned' });
    await connector.withdraw(access(it), found.remoteId);
  });

  test('messages come once each and in order, are answered once, and what is hidden nobody sees', async () => {
    const mine = access(it);
    const { remoteId, watchUrl } = await connector.place(mine, await order(it), randomBytes(8).toString('hex'));
    const page = watchUrl.replace(/^http:\/\/[^/]+/, url);
    const viewer = async (words: string, standing = 'member', name = 'Fern') =>
      (
        await fetch(`${page}/said`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ name, words, standing }),
        })
      ).status;
    const seen = async () => ((await (await fetch(`${page}/said`)).json()) as { text: string }[]).map(({ text }) => text);
    let kept: MessageThere[] = [];
    let cursor = '';
    /** Follows from where it was left, until there is something that `enough` is content with. */
    const follow = async (enough: () => boolean) => {
      const over = new AbortController();
      await connector.messages
        .follow(
          mine,
          remoteId,
          cursor,
          async (batch) => {
            kept = [...kept, ...batch.messages.filter(({ id }) => !kept.some((each) => each.id === id))];
            cursor = batch.cursor;
            if (enough()) over.abort();
          },
          over.signal,
        )
        .catch((error: unknown) => {
          if (!over.signal.aborted) throw error;
        });
    };
    for (const words of ['Good evening!', 'Is the fog gone?']) expect(await viewer(words)).toBe(200);
    await follow(() => kept.length >= 2);
    expect(kept.map(({ words, writer, standing, hidden }) => [words, writer, standing, hidden])).toEqual([
      ['Good evening!', 'Fern', connector.network === 'guildhand' ? 'member' : 'follower', false],
      ['Is the fog gone?', 'Fern', connector.network === 'guildhand' ? 'member' : 'follower', false],
    ]);
    // What is written while nobody follows comes with the next; so does what is written meanwhile.
    await viewer('Written in between');
    const live = follow(() => kept.length >= 4);
    setTimeout(() => void viewer('Written just now'), 300);
    await live;
    expect(kept.map(({ words }) => words).slice(2)).toEqual(['Written in between', 'Written just now']);
    // An answer whose answer got lost is not written twice.
    const once = randomBytes(8).toString('hex');
    await operate('faults', { network: connector.network, fault: 'lose-answer' });
    await expect(connector.messages.write(mine, remoteId, 'Yes, since nine.', kept[1]!.id, once)).rejects.toBeInstanceOf(NetworkSilence);
    await operate('faults', { network: connector.network, fault: 'none' });
    const answer = await connector.messages.write(mine, remoteId, 'Yes, since nine.', kept[1]!.id, once);
    const { threads, longest, hiding } = messageRules(connector.network);
    expect(answer).toMatchObject({ standing: 'own', words: 'Yes, since nine.', answers: threads ? kept[1]!.id : null });
    expect((await seen()).filter((words) => words === 'Yes, since nine.')).toHaveLength(1);
    await expect(connector.messages.write(mine, remoteId, 'x'.repeat(longest + 1), null, randomBytes(8).toString('hex'))).rejects.toMatchObject({
      reason: 'too-long',
    });
    await connector.messages.write(mine, remoteId, 'y'.repeat(longest), null, randomBytes(8).toString('hex'));
    // Hidden: nobody sees it, and a second press changes nothing.
    await connector.messages.setHidden(mine, kept[0]!.id, true);
    await connector.messages.setHidden(mine, kept[0]!.id, true);
    expect(await seen()).not.toContain('Good evening!');
    if (hiding === 'for good') await expect(connector.messages.setHidden(mine, kept[0]!.id, false)).rejects.toMatchObject({ reason: 'gone' });
    else {
      await connector.messages.setHidden(mine, kept[0]!.id, false);
      expect(await seen()).toContain('Good evening!');
    }
    // Who may write is changed where a network leaves the choice, and is what the network says afterwards.
    const offered = writingOffered(rulesFor(connector.network, it.kind));
    if (connector.messages.setWriting) {
      const { setWriting } = connector.messages;
      expect(await setWriting(mine, remoteId, { messages: 'followers' })).toMatchObject({ messages: 'followers' });
      expect([await viewer('From outside', 'newcomer'), await viewer('From a follower', 'follower')]).toEqual([403, 200]);
      expect(await setWriting(mine, remoteId, { messages: 'everyone' })).toMatchObject({ messages: 'everyone' });
      expect(await viewer('From outside', 'newcomer')).toBe(200);
      // What keeps a message out, of what the network asks.
      for (const name of WRITING_LIMITS.filter((limit) => offered[limit].length > 1)) {
        const least = offered[name].at(-1)!;
        expect(await setWriting(mine, remoteId, { [name]: least })).toMatchObject({ messages: 'everyone', [name]: least });
        expect(await viewer('Hm', 'newcomer')).toBeGreaterThanOrEqual(403);
        expect(await setWriting(mine, remoteId, { [name]: 0 })).toMatchObject({ [name]: 0 });
        expect(await viewer('Hm', 'newcomer')).toBe(200);
      }
    } else expect(Object.values(offered).filter(({ length }) => length > 1)).toEqual([]);
    // Whoever is to write nothing more does not, others do, and they write again once they may.
    const { silences } = messageRules(connector.network);
    expect(connector.messages.silence !== undefined).toBe(silences.length > 0);
    for (const silence of silences) {
      expect(await connector.messages.silence!(mine, kept[0]!.id, silence)).toBe(silence);
      expect([await viewer('And again', 'follower'), await viewer('Somebody else', 'follower', 'Sedge')]).toEqual([403, 200]);
      expect(await connector.messages.silence!(mine, kept[0]!.id, 'no')).toBe('no');
      expect(await viewer('And again', 'follower')).toBe(200);
    }
    const foreign = access(it, it.good, tokens.get(`${connector.network} stranger`));
    await expect(connector.messages.follow(foreign, remoteId, '', () => Promise.resolve(), new AbortController().signal)).rejects.toMatchObject({
      status: 403,
    });
    await expect(connector.messages.setHidden(foreign, kept[1]!.id, true)).rejects.toBeInstanceOf(NetworkRefusal);
    // A network in trouble is a silence, and nothing is lost by it.
    await operate('faults', { network: connector.network, fault: 'down' });
    await expect(follow(() => true)).rejects.toBeInstanceOf(NetworkSilence);
    await operate('faults', { network: connector.network, fault: 'none' });
    await viewer('Still here?');
    await follow(() => kept.some(({ words }) => words === 'Still here?'));
    await connector.withdraw(mine, remoteId);
    expect(await viewer('Too late')).toBeGreaterThanOrEqual(400);
  });

  test('says so when access has ended', async () => {
    await expect(connector.identities(access(it, it.good, 'made-up').request)).rejects.toBeInstanceOf(AccessEnded);
    await expect(connector.report(access(it, it.good, 'made-up'), 'x')).rejects.toBeInstanceOf(AccessEnded);
  });
});

test('Reelmoor shows next only what stands there itself, and says so in our words', async () => {
  const [, it] = CASES[0]!;
  const { connector } = it;
  const mine = access(it);
  const its = await order(it, {});
  const first = await connector.place(mine, its, randomBytes(8).toString('hex'));
  const rules = rulesFor('reelmoor', it.kind);
  const followedBy = (next: string) => ({ ...its, settings: settingsFor({ next }, defaultsFor(rules), rules) });
  for (const elsewhere of ['http://elsewhere.example/watch/x', first.watchUrl.replace(first.remoteId, 'nothing')])
    await expect(connector.change(mine, first.remoteId, followedBy(elsewhere))).rejects.toMatchObject({ reason: 'nextUrl' });
  expect(ourWords(connector, 'nextUrl')).toContain('what stands on Reelmoor itself');
  await connector.change(mine, first.remoteId, followedBy(first.watchUrl));
  await connector.withdraw(mine, first.remoteId);
});

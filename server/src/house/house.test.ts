// The public side from outside: who sees what, what crawlers and other sites get, who is written to.
import type { AudienceView, HouseView, ShowDraft, ShowView, StationView, SupportersCode } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS, sayWhen, wallTimeOf } from '@lantern/core';
import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type request from 'supertest';
import { OutboxService } from '../mail/outbox.service';
import { Mail } from '../mail/mail.entities';
import { Registration } from '../reminders/reminder.entities';
import { RemindersService } from '../reminders/reminders.service';
import { SubscriptionsService } from '../reminders/subscriptions.service';
import { TestStation } from '../test/station';

let station: TestStation;
let hall = '';
const BEGAN = Date.now();
const ZONE = 'Europe/Dublin';

beforeAll(async () => {
  station = await TestStation.open();
  hall = (await as(http().post('/api/channels/typed-in')).send({ name: 'Hall', address: 'rtmp://localhost/x', key: 'hall-key-1' }).expect(201)).body.id;
});
afterAll(() => station.close());
beforeEach(() => {
  station.forgetTries();
  rmSync(outbox(), { recursive: true, force: true });
});

const http = () => station.http();
const as = (test: request.Test) => station.as(test);
const outbox = () => join(station.folder, 'outbox');
let hour = 0;
async function placed(change: Partial<ShowDraft> = {}, days = 3): Promise<ShowView> {
  const startsAt = Math.ceil(BEGAN / HOUR_MS) * HOUR_MS + days * DAY_MS + (hour += 2) * HOUR_MS;
  const sheet = station.draft([hall], { ...wallTimeOf(instant(startsAt), ZONE), zone: ZONE, ...change });
  const show = (await as(http().post('/api/shows')).send(sheet).expect(201)).body as ShowView;
  const picture = await sharp({ create: { width: 1600, height: 900, channels: 3, background: '#123456' } })
    .png()
    .toBuffer();
  await as(http().put(`/api/shows/${show.id}/thumbnail`))
    .set('content-type', 'application/octet-stream')
    .send(picture)
    .expect(200);
  await as(http().post(`/api/shows/${show.id}/place`)).expect(200);
  return (await as(http().get(`/api/shows/${show.id}`))).body as ShowView;
}
const slugOf = (show: ShowView) => show.houseUrl.split('/').at(-1)!;
/** Mails that have gone out, as text. */
async function mails(): Promise<string[]> {
  await station.app.get(OutboxService).sendDue();
  if (!existsSync(outbox())) return [];
  return readdirSync(outbox())
    .sort()
    .map((file) => unfolded(readFileSync(join(outbox(), file), 'utf8')));
}
/** Quoted-printable text as it is read (RFC 2045, section 6.7). */
function unfolded(mail: string): string {
  const bytes = mail.replace(/=\r\n/g, '').replace(/=([0-9A-F]{2})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)));
  return Buffer.from(bytes, 'latin1').toString('utf8');
}

describe('visibility', () => {
  const PATHS = [
    ...['/on/:slug', '/embed/:slug', '/api/house/:slug'],
    ...['changes', 'thumbnail', 'waiting', 'calendar.ics', 'trailer.mp4', 'replay.mp4', 'chapters.vtt', 'captions.vtt', 'live/live.m3u8'].map(
      (part) => `/api/house/:slug/${part}`,
    ),
  ];
  const at = (path: string, slug: string) => path.replace(':slug', slug);

  test.each(['invited people', 'supporters'] as const)('a show for %s is answered like one that does not exist, on every path', async (houseVisibility) => {
    const show = await placed({ houseVisibility, title: 'Secret evening', embedSites: ['https://village.example'] });
    for (const path of PATHS) {
      const hidden = await http().get(at(path, slugOf(show)));
      const unknown = await http().get(at(path, 'no-such-slug'));
      expect([path, hidden.status, hidden.text]).toEqual([path, 404, unknown.text]);
    }
    await http()
      .post(at('/api/house/:slug/reminders', slugOf(show)))
      .send({ email: 'a@people.example' })
      .expect(404);
    expect(show.shortUrl).toBeNull();
    await http()
      .get(`/oembed?url=${encodeURIComponent(show.houseUrl)}`)
      .expect(404);
  });

  test('a stream of changes ends for whoever may not see the show any more', async () => {
    const show = await placed({ title: 'First for all' });
    await station.app.listen(0, '127.0.0.1');
    const { port } = station.app.getHttpServer().address() as { port: number };
    const stream = await fetch(`http://127.0.0.1:${port}/api/house/${slugOf(show)}/changes`);
    const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
    let heard = (await reader.read()).value ?? '';
    expect(heard).toContain('First for all');
    await as(http().patch(`/api/shows/${show.id}`))
      .send({ base: 99, changes: { houseVisibility: 'invited people', title: 'Now a secret' } })
      .expect(200);
    for (let piece = await reader.read(); !piece.done; piece = await reader.read()) heard += piece.value;
    expect(heard).not.toContain('Now a secret');
  });

  test('only shows for everyone are on the station’s page, in its feed, its calendar, and behind short addresses', async () => {
    const everyone = await placed({ title: 'For everyone' });
    const holders = await placed({ title: 'For link holders', houseVisibility: 'link holders' });
    const invited = await placed({ title: 'For the invited', houseVisibility: 'invited people' });
    const draft = (
      await as(http().post('/api/shows'))
        .send(station.draft([hall], { title: 'Only a draft', date: '2031-01-01' }))
        .expect(201)
    ).body as ShowView;
    const { pageUrl } = (await as(http().get('/api/station'))).body as StationView;
    const page = new URL(pageUrl).pathname;
    for (const path of [page, `${page}/feed.atom`, `${page}/calendar.ics`]) {
      const { text } = await http().get(path).expect(200);
      expect(text).toContain('For everyone');
      for (const hidden of ['For link holders', 'For the invited', 'Only a draft']) expect(text).not.toContain(hidden);
    }
    await http().get(new URL(everyone.shortUrl!).pathname).expect(302).expect('location', `${everyone.houseUrl}?from=short%20address`);
    await http()
      .get(`/on/${slugOf(holders)}`)
      .expect(200)
      .expect(/<meta name="robots" content="noindex"\/>/);
    for (const show of [invited, draft])
      await http()
        .get(`/on/${slugOf(show)}`)
        .expect(404);
  });

  test('somebody invited gets in by their own link, which then leaves the address, and answers; taken back, it opens nothing', async () => {
    const show = await placed({ houseVisibility: 'invited people', title: 'Members’ Evening' });
    const invite = (body: object) => as(http().post(`/api/shows/${show.id}/invitations`)).send(body);
    const { id } = (await invite({ name: 'Juno Hartsel', email: 'Juno@people.example' }).expect(201)).body;
    await invite({ name: 'Juno again', email: 'juno@people.example' }).expect(409);
    for (const name of ['', 'Juno\nBcc: all@people.example', 'Juno\r\nX: y']) await invite({ name, email: 'x@people.example' }).expect(400);
    const [mail] = await mails();
    expect(mail).toContain('Dear Juno Hartsel');
    const link = new URL(/http\S+\?pass=\S+/.exec(mail!)![0]);
    const first = await http()
      .get(link.pathname + link.search)
      .expect(303);
    expect(first.headers.location).toBe(link.pathname);
    const cookie = first.headers['set-cookie']![0]!;
    expect(cookie).toMatch(/HttpOnly/);
    const opened = await http().get(link.pathname).set('cookie', cookie).expect(200);
    expect(opened.text).toContain('Members’ Evening');
    const answered = await http()
      .post(`/api/house/${slugOf(show)}/answer`)
      .set('cookie', cookie)
      .send({ answer: 'accepted' })
      .expect(200);
    expect((answered.body as HouseView).invitation).toEqual({ name: 'Juno Hartsel', answer: 'accepted' });
    const audience = async () => (await as(http().get(`/api/shows/${show.id}/audience`))).body as AudienceView;
    expect((await audience()).invitations).toMatchObject([{ name: 'Juno Hartsel', answer: 'accepted' }]);
    // Another show's pass opens nothing here.
    await http()
      .get(`/on/${slugOf(await placed({ houseVisibility: 'invited people' }))}`)
      .set('cookie', cookie)
      .expect(404);
    await as(http().delete(`/api/shows/${show.id}/invitations/${id}`)).expect(204);
    await http().get(link.pathname).set('cookie', cookie).expect(404);
  });

  test('supporters come in by the station’s code, however it is typed; a new code shuts the old one out', async () => {
    const show = await placed({ houseVisibility: 'supporters' });
    const code = async () => ((await as(http().post('/api/station/supporters-code')).expect(201)).body as SupportersCode).code;
    const path = `/api/house/${slugOf(show)}`;
    const wrong = await http().post(`${path}/code`).send({ code: 'not-this' }).expect(403);
    expect((await http().post('/api/house/nothing-here/code').send({ code: 'not-this' }).expect(403)).body).toEqual(wrong.body);
    const first = await code();
    const cookie = (
      await http()
        .post(`${path}/code`)
        .send({ code: ` ${first.toUpperCase().replaceAll('-', ' ')} ` })
        .expect(204)
    ).headers['set-cookie']![0]!;
    await http().get(path).set('cookie', cookie).expect(200);
    await code();
    await http().get(path).set('cookie', cookie).expect(404);
  });
});

describe('the page for crawlers and other sites', () => {
  test('is whole without script, light, and cannot be broken out of', async () => {
    const awkward = '</script><script>alert(1)</script> & "quotes" $& <!--body-->';
    const show = await placed({ title: awkward, description: `${awkward}\u2028${'The sky. '.repeat(1_500)}`, thumbnailAlternative: '"><b>' });
    const { text } = await http()
      .get(`/on/${slugOf(show)}`)
      .expect(200);
    expect(Buffer.byteLength(text)).toBeLessThan(45_000);
    expect(text).not.toContain('<script>alert');
    expect(text).not.toContain('"><b>');
    const data = /<script type="application\/ld\+json">(.*?)<\/script>/.exec(text)![1]!;
    expect(JSON.parse(data)).toMatchObject({ '@type': 'BroadcastEvent', name: awkward, startDate: new Date(show.startsAt).toISOString() });
    expect(text).toContain(`<link rel="canonical" href="${show.houseUrl}"/>`);
    const plain = await placed();
    expect(Buffer.byteLength((await http().get(`/on/${slugOf(plain)}`)).text)).toBeLessThan(10_000);
  });

  test('says something helpful after the show was moved or withdrawn, at the same addresses', async () => {
    const show = await placed({ title: 'Comet watch' });
    const later = show.startsAt + HOUR_MS;
    await as(http().post(`/api/shows/${show.id}/move`))
      .send({ startsAt: later, lengthMs: show.lengthMs, base: show.version })
      .expect(200);
    expect((await http().get(`/on/${slugOf(show)}`)).text).toContain(sayWhen(instant(later), ZONE));
    await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
    await http().get(new URL(show.shortUrl!).pathname).expect(302);
    const { text } = await http()
      .get(`/on/${slugOf(show)}`)
      .expect(200);
    expect(text).toContain('This show will not take place.');
    expect(text).toContain('EventCancelled');
    expect((await http().get(`/api/house/${slugOf(show)}/calendar.ics`)).text).toContain('STATUS:CANCELLED');
  });

  test('is shown within the sites that its host allows, and no others', async () => {
    const show = await placed({ embedSites: ['https://village.example'] });
    const embed = await http()
      .get(`/embed/${slugOf(show)}`)
      .expect(200);
    expect(embed.headers['content-security-policy']).toMatch(/frame-ancestors 'self' https:\/\/village\.example$/);
    expect(embed.headers['x-frame-options']).toBeUndefined();
    const own = await http()
      .get(`/on/${slugOf(show)}`)
      .expect(200);
    expect(own.headers['x-frame-options']).toBe('SAMEORIGIN');
    const oembed = await http()
      .get(
        /href="([^"]*oembed[^"]*)"/
          .exec(own.text)![1]!
          .replaceAll('&#38;', '&')
          .replace(/^https?:\/\/[^/]+/, ''),
      )
      .expect(200);
    expect(oembed.body).toMatchObject({ version: '1.0', type: 'video', html: expect.stringContaining(`/embed/${slugOf(show)}`) });
    await http()
      .get(`/embed/${slugOf(await placed())}`)
      .expect(404);
    for (const site of ['javascript:alert(1)', 'https://a.example/path', "https://a.example 'unsafe-inline'", '*']) {
      await as(http().patch(`/api/shows/${show.id}`))
        .send({ base: 99, changes: { embedSites: [site] } })
        .expect(400);
    }
  });

  test('an address is drawn as a code, and nothing else is', async () => {
    await as(http().get('/api/qr.svg?of=https://alderfell.example/on/x')).expect(200).expect('content-type', /svg/);
    const png = await as(http().get('/api/qr.png?of=https://alderfell.example/on/x')).expect(200);
    expect(await sharp(png.body as Buffer).metadata()).toMatchObject({ format: 'png', width: 1_024 });
    await as(http().get('/api/qr.svg?of=javascript:alert(1)')).expect(400);
    await http().get('/api/qr.svg?of=https://alderfell.example').expect(401);
  });
});

describe('reminders', () => {
  const ask = (show: ShowView, email: string, zone = 'America/Santiago') =>
    http()
      .post(`/api/house/${slugOf(show)}/reminders`)
      .send({ email, zone });
  const linkIn = (mail: string, what: string) => new URL(new RegExp(`http\\S+/reminders/${what}/[^\\s>]+`).exec(mail)![0]).pathname;
  async function reminded(show: ShowView, email: string): Promise<string> {
    await ask(show, email).expect(202);
    const path = linkIn(
      (await mails()).find((mail) => mail.includes(`To: ${email}`) && mail.includes('/confirm/'))!,
      'confirm',
    );
    await http().post(path).expect(200);
    return path.replace('confirm', 'leave');
  }
  const tick = () => station.app.get(RemindersService).tick();

  test('nothing is sent to an address that did not confirm; the link of a mail asks before it does anything', async () => {
    const show = await placed({ title: 'Occultation\nof a lamp' });
    await ask(show, 'Visitor@people.example').expect(202);
    const [mail, ...others] = await mails();
    expect(others).toEqual([]);
    expect(mail).toMatch(/^To: visitor@people\.example/m);
    expect(mail).toMatch(/^Subject: Shall we remind you of Occultation of a lamp\?/m);
    expect(mail).toContain(sayWhen(instant(show.startsAt), 'America/Santiago'));
    const path = linkIn(mail!, 'confirm');
    await http().get(path).expect(200); // a program that looks into mails follows links
    expect(await station.database.getRepository(Registration).countBy({ email: 'visitor@people.example' })).toBe(1);
    expect(((await as(http().get(`/api/shows/${show.id}/audience`))).body as AudienceView).confirmed).toBe(0);
    await http().post(path).expect(200);
    await http().post(path).expect(200); // twice does no harm
    const sent = await mails();
    expect(sent.filter((text) => text.includes('Subject: You will be reminded'))).toHaveLength(1);
    expect(sent.at(-1)).toContain('text/calendar');
    expect((await as(http().get(`/api/shows/${show.id}/audience`))).body as AudienceView).toMatchObject({ asked: 1, confirmed: 1 });
    // A second asking with the same address says the same and sends nothing.
    await ask(show, 'visitor@people.example').expect(202);
    expect(await mails()).toHaveLength(sent.length);
  });

  test('a day before, an hour before and when it is moved, each once, on the reader’s clock; whoever leaves hears no more', async () => {
    const show = await placed({ title: 'Comet watch' });
    const leave = await reminded(show, 'stays@people.example');
    const gone = await reminded(show, 'goes@people.example');
    await http().post(gone).expect(200);
    await reminded(show, 'clicks@people.example');
    const subjects = async () => (await mails()).flatMap((mail) => /^Subject: (.*)$/m.exec(mail)?.[1] ?? []).filter((subject) => !subject.includes('remind'));
    try {
      station.travelTo(show.startsAt - DAY_MS + MINUTE_MS);
      await tick();
      await tick();
      expect(await subjects()).toEqual(['Comet watch tomorrow', 'Comet watch tomorrow']);
      // A mail program leaves with one request of its own (RFC 8058).
      const own = (await mails()).find((mail) => /^To: clicks@/m.test(mail) && mail.includes('tomorrow'))!;
      expect(own).toMatch(/^List-Unsubscribe-Post: List-Unsubscribe=One-Click/m);
      const oneClick = new URL(/^List-Unsubscribe:\s*<([^>]+)>/m.exec(own)![1]!).pathname;
      await http().post(`${oneClick}x`).type('form').send('List-Unsubscribe=One-Click');
      expect(await station.database.getRepository(Registration).countBy({ email: 'clicks@people.example' })).toBe(1);
      await http().post(oneClick).type('form').send('List-Unsubscribe=One-Click').expect(200);
      station.travelTo(show.startsAt - HOUR_MS + MINUTE_MS);
      await tick();
      expect((await subjects()).slice(1)).toEqual(['Comet watch tomorrow', 'Comet watch in an hour']);
      await as(http().patch(`/api/shows/${show.id}`))
        .send({ base: 99, changes: wallTimeOf(instant(show.startsAt + 3 * HOUR_MS), ZONE) })
        .expect(200);
      await tick();
      expect(await subjects()).toHaveLength(3); // the host may still be typing
      station.travelTo(show.startsAt - HOUR_MS + 8 * MINUTE_MS);
      await tick();
      const all = await mails();
      expect(all.at(-1)).toContain(sayWhen(instant(show.startsAt + 3 * HOUR_MS), 'America/Santiago'));
      await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
      await tick();
      await tick();
      expect((await subjects()).slice(1)).toEqual([
        'Comet watch tomorrow',
        'Comet watch in an hour',
        'Comet watch has another time',
        'Comet watch will not take place',
      ]);
      // It may be placed anew, for the same start, and be called off once more: each is told.
      await as(http().post(`/api/shows/${show.id}/place`)).expect(200);
      await tick();
      await tick();
      await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
      await tick();
      await tick();
      expect((await subjects()).slice(5)).toEqual(['Comet watch takes place after all', 'Comet watch will not take place']);
      await http().post(leave).expect(200);
    } finally {
      station.travelTo(Date.now());
    }
  });

  test('whoever was invited is reminded by their own link once they come, told of changes before that, and left alone after declining', async () => {
    const show = await placed({ title: 'Members’ Evening', houseVisibility: 'invited people' });
    for (const name of ['comes', 'asked', 'declines'])
      await as(http().post(`/api/shows/${show.id}/invitations`))
        .send({ name, email: `${name}@people.example` })
        .expect(201);
    const passOf = async (name: string) => /\?pass=(\S+)/.exec((await mails()).find((mail) => mail.includes(`To: ${name}@`))!)![1]!;
    for (const [name, answer] of [
      ['comes', 'accepted'],
      ['declines', 'declined'],
    ] as const)
      await http()
        .post(`/api/house/${slugOf(show)}/answer?pass=${await passOf(name)}`)
        .send({ answer })
        .expect(200);
    const since = (await mails()).length;
    const told = async () =>
      (await mails())
        .slice(since)
        .map((mail) => [/^To: (\w+)@/m.exec(mail)![1], /^Subject: (.*)$/m.exec(mail)![1]!.replace(/=\?UTF-8\?Q\?.*?\?=\s?/g, '…')].join(' '));
    try {
      station.travelTo(show.startsAt - HOUR_MS + MINUTE_MS);
      await tick();
      expect((await told()).map((line) => line.split(' ')[0])).toEqual(['comes']);
      const own = /\?pass=(\S+)/.exec((await mails()).at(-1)!)![1]!;
      await http()
        .get(`/on/${slugOf(show)}?pass=${own}`)
        .expect(303);
      await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
      await tick();
      await tick();
      expect((await told()).map((line) => line.split(' ')[0]).sort()).toEqual(['asked', 'comes', 'comes']);
    } finally {
      station.travelTo(Date.now());
    }
  });

  test('whoever subscribed hears of new shows for everyone in one mail, and of no others', async () => {
    const { pageUrl } = (await as(http().get('/api/station'))).body as StationView;
    const page = new URL(pageUrl).pathname;
    expect((await http().get(page).expect(200)).text).toContain(`action="${page}/subscribe"`);
    const subscribe = (email: string) => http().post(`${page}/subscribe`).type('form').send({ email });
    await subscribe('nobody').expect(400);
    await subscribe('a@people.example\r\nBcc: b@people.example').expect(400);
    await subscribe('Curious@people.example').expect(202);
    await http()
      .post(linkIn((await mails()).at(-1)!, 'confirm'))
      .expect(200);
    expect(((await as(http().get('/api/station'))).body as StationView).subscribers).toBe(1);
    const before = (await mails()).length;
    const subscriptions = station.app.get(SubscriptionsService);
    try {
      station.travelTo(Date.now() + MINUTE_MS);
      await placed({ title: 'First new one' });
      await placed({ title: 'Second new one' });
      await placed({ title: 'Secret new one', houseVisibility: 'link holders' });
      await subscriptions.tick();
      expect(await mails()).toHaveLength(before); // more may be placed in the next minutes
      station.travelTo(Date.now() + 10 * MINUTE_MS);
      await subscriptions.tick();
      await subscriptions.tick();
      const [mail, ...others] = (await mails()).slice(before);
      expect(others).toEqual([]);
      expect(mail).toContain('First new one');
      expect(mail).toContain('Second new one');
      expect(mail).not.toContain('Secret');
      await http().post(linkIn(mail!, 'leave')).expect(200);
      expect(((await as(http().get('/api/station'))).body as StationView).subscribers).toBe(0);
    } finally {
      station.travelTo(Date.now());
    }
  });

  test('one place cannot fill the book, bad addresses are refused, and secrets are not kept once they were sent', async () => {
    const show = await placed();
    for (const email of ['nobody', 'a@b', 'a@people.example\nBcc: b@people.example', '']) await ask(show, email).expect(400);
    station.forgetTries();
    const answers = await Promise.all(Array.from({ length: 12 }, (_, at) => ask(show, `visitor${at}@people.example`).then(({ status }) => status)));
    expect(answers.filter((status) => status === 429).length).toBeGreaterThanOrEqual(6);
    await mails();
    const kept = await station.database.getRepository(Mail).find();
    expect(kept.filter(({ sentAt }) => sentAt !== null).every(({ sealed }) => sealed === '')).toBe(true);
    station.forgetTries();
    await ask(await placed({ reminders: false }), 'a@people.example').expect(409);
    const table = await as(http().get(`/api/shows/${show.id}/audience.csv`)).expect(200);
    expect(table.text).toMatch(/^Address,Zone,Confirmed \(UTC\)\r\n/);
  });
});

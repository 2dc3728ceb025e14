// A server with a station of its own, for tests: a real database in a folder that goes with it.
import 'reflect-metadata';
import { BLANK_SHEET, USUAL_TIMES } from '@lantern/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Test } from '@nestjs/testing';
import { getStorageToken } from '@nestjs/throttler';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { filter, firstValueFrom } from 'rxjs';
import request from 'supertest';
import { DataSource } from 'typeorm';
import { AppModule } from '../app.module';
import { AirLink } from '../air/air-link';
import { openAir, type Air } from '../carrier/open-air';
import { guardConnections } from '../doors/connections';
import { readSettings, SETTINGS, type Settings } from '../foundation/settings';
import { configureHttp } from '../http';
import { hashPassword } from '../people/passwords';
import { PeopleService } from '../people/people.service';
import { Person, Station } from '../people/people.entities';
import type { Role, ShowDraft } from '@lantern/contract';

export const OWNER = { stationName: 'Alderfell Sky Club', name: 'Maren Tolliver', email: 'maren@alderfell.example', password: 'lantern-light' };

export class TestStation {
  cookie = '';

  private constructor(
    readonly app: NestExpressApplication,
    readonly folder: string,
    private air: Air,
  ) {}

  /** Opens a station. `folder` may be one that an earlier station has left. */
  static async open(folder = mkdtempSync(join(tmpdir(), 'lantern-station-'))): Promise<TestStation> {
    process.env.LANTERN_DATA = folder;
    process.env.LANTERN_CLOCK_FILE = join(folder, 'clock');
    writeFileSync(process.env.LANTERN_CLOCK_FILE, '0');
    process.env.LANTERN_AIR_PORT = '0';
    process.env.LANTERN_RTMP_PORT = '0';
    // Within this process, and yet over the wire that two processes use.
    const air = await openAir(readSettings());
    const module = await Test.createTestingModule({ imports: [AppModule] }).compile();
    const app = module.createNestApplication<NestExpressApplication>({ logger: false, bodyParser: false, forceCloseConnections: true });
    configureHttp(app, app.get(SETTINGS));
    await app.init();
    const station = new TestStation(app, folder, air);
    await station.airIsThere();
    const opened = await station
      .http()
      .post('/api/set-up')
      .send({ ...OWNER, code: app.get(PeopleService).setUpCode, zone: 'UTC' });
    station.cookie = opened.status === 201 ? opened.headers['set-cookie']![0]! : await station.signIn(OWNER.email, OWNER.password);
    return station;
  }

  http() {
    return request(this.app.getHttpServer());
  }

  as(test: request.Test, who = this.cookie): request.Test {
    return test.set('cookie', who);
  }

  get database(): DataSource {
    return this.app.get(DataSource);
  }

  async signIn(email: string, password: string): Promise<string> {
    return (await this.http().post('/api/session').send({ email, password }).expect(200)).headers['set-cookie']![0]!;
  }

  /** Somebody else: at this station, or at another one on the same server. */
  async person(role: Role, stationId: string | null = null): Promise<string> {
    const email = `${role}-${stationId ?? 'own'}@people.example`;
    const [own] = await this.database.getRepository(Station).find({ order: { name: 'ASC' }, take: 1 });
    if (stationId)
      await this.database
        .getRepository(Station)
        .insert({ id: stationId, name: 'Zzz', zone: 'UTC', cities: [], milestoneTimes: USUAL_TIMES, feedHash: null, slug: stationId, supportersHash: null });
    const passwordHash = await hashPassword('another-password');
    await this.database.getRepository(Person).insert({ id: email, stationId: stationId ?? own!.id, name: 'Bea Lanthorn', email, passwordHash, role });
    return this.signIn(email, 'another-password');
  }

  draft(channelIds: string[], change: Partial<Record<keyof ShowDraft, unknown>> = {}): object {
    const when = { date: '2099-12-03', time: '20:30', zone: 'Europe/Dublin', lengthMin: 40 };
    return { ...BLANK_SHEET, title: 'Dusk Report', ...when, channelIds, ...change };
  }

  /** Brings the station to `epochMs`; time goes on from there. */
  travelTo(epochMs: number): void {
    writeFileSync(join(this.folder, 'clock'), String(Math.round(epochMs - Date.now())));
  }

  /** The mails to somebody in the folder that stands in for a mail server, the last at the end, as they are read. */
  mailsTo(address: string): string[] {
    const outbox = join(this.folder, 'outbox');
    const files = existsSync(outbox) ? readdirSync(outbox).filter((file) => file.endsWith('.eml')) : [];
    const mails = files.sort().map((file) =>
      readFileSync(join(outbox, file), 'utf8')
        .replace(/=\r?\n/g, '')
        .replace(/=3D/g, '='),
    );
    return mails.filter((mail) => mail.includes(`To: ${address}`));
  }

  /** Lets everybody begin anew with their tries a minute. */
  forgetTries(): void {
    const book = this.app.get<{ evictIdleRecords(now: number): void }>(getStorageToken());
    book.evictIdleRecords(Date.now() + 3_600_000);
    this.app.get(PeopleService).gate.forget();
  }

  /** Listens as the product does, for what only real connections show. */
  async listen(): Promise<number> {
    const server = this.app.getHttpServer() as Server;
    const { proxies, connectionsPerAddress } = this.app.get<Settings>(SETTINGS);
    guardConnections(server, proxies, connectionsPerAddress);
    await this.app.listen(0, '127.0.0.1');
    return (server.address() as AddressInfo).port;
  }

  /** Where stages connect. */
  get airPort(): number {
    return this.air.port;
  }

  /** Where outside encoders send. */
  get ingestPort(): number {
    return this.air.ingestPort;
  }

  /** How many connections are open there. */
  airConnections(): Promise<number> {
    return this.air.connections();
  }

  get carrier(): Air['carrier'] {
    return this.air.carrier;
  }

  /** Resolves once the planning server has found the air process. */
  async airIsThere(): Promise<void> {
    await firstValueFrom(this.app.get(AirLink).connected.pipe(filter(Boolean)));
  }

  /** Ends the air process and starts another; `between`: what happens while there is none. */
  async airAnew(between: () => Promise<void> = () => Promise.resolve()): Promise<void> {
    const { connected } = this.app.get(AirLink);
    const gone = firstValueFrom(connected.pipe(filter((there) => !there)));
    await this.air.close();
    await gone;
    await between();
    this.air = await openAir(readSettings());
    await this.airIsThere();
  }

  async close(keepFolder = false): Promise<void> {
    await this.app.close();
    await this.air.close();
    if (!keepFolder) rmSync(this.folder, { recursive: true, force: true });
  }
}

// The stand-in networks in this process, for tests of what is told to them and read back from them.
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Test } from '@nestjs/testing';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ChannelView, LinkStarted } from '@lantern/contract';
import type { NetworkId } from '@lantern/core';
import { AppModule as Networks } from '../../../networks/src/app.module';
import { configureHttp } from '../../../networks/src/http';
import { EventRow, PlayRow } from '../../../networks/src/kit/entities';
import { DataSource } from 'typeorm';
import type { TestStation } from './station';

export class StandIns {
  private constructor(
    private readonly app: NestExpressApplication,
    private readonly folder: string,
    readonly url: string,
  ) {}

  /** Opens the networks; a station that is opened afterwards finds them. */
  static async open(): Promise<StandIns> {
    const folder = mkdtempSync(join(tmpdir(), 'lantern-stand-ins-'));
    const port = await freePort();
    const url = `http://127.0.0.1:${port}`;
    Object.assign(process.env, { LANTERN_NETWORKS_DATA: folder, LANTERN_NETWORKS_RTMP_PORT: '0', LANTERN_NETWORKS_URL: url });
    const module = await Test.createTestingModule({ imports: [Networks] }).compile();
    const app = module.createNestApplication<NestExpressApplication>({ logger: false, forceCloseConnections: true });
    configureHttp(app);
    await app.listen(port, '127.0.0.1');
    return new StandIns(app, folder, url);
  }

  async operate(action: string, body: Record<string, string>): Promise<void> {
    const reply = await fetch(`${this.url}/operator/${action}`, { method: 'POST', redirect: 'manual', body: new URLSearchParams(body) });
    if (reply.status >= 400) throw new Error(`the operator refused ${action}: ${reply.status} ${await reply.text()}`);
  }

  /** An event as its network keeps it. */
  event(id: string): Promise<EventRow> {
    return this.app.get(DataSource).getRepository(EventRow).findOneByOrFail({ id });
  }

  /** Has all that was announced be over, as if it had been on air. */
  async finishAll(): Promise<void> {
    await this.app
      .get(DataSource)
      .getRepository(EventRow)
      .update({ state: 'planned' }, { state: 'over', publicAt: Date.now() - 60_000, endedAt: Date.now() });
  }

  /** Somebody has played an event, or what was kept of it. */
  async played(eventId: string, viewer: string, since: boolean): Promise<void> {
    await this.app.get(DataSource).getRepository(PlayRow).insert({ eventId, viewer, since });
  }

  /** As if an event had ended then. */
  async endedAt(id: string, endedAt: number): Promise<void> {
    await this.app.get(DataSource).getRepository(EventRow).update({ id }, { endedAt });
  }

  /** All events of all networks. */
  events(): Promise<EventRow[]> {
    return this.app.get(DataSource).getRepository(EventRow).find();
  }

  /** Links an account to a station as a person does. */
  async link(station: TestStation, network: NetworkId, identityId: string): Promise<ChannelView> {
    const { consentUrl } = (await station.as(station.http().post('/api/channels/links')).send({ network }).expect(200)).body as LinkStarted;
    const body = new URLSearchParams({ name: 'maren', password: 'lantern-light', answer: 'allow' });
    const back = new URL((await fetch(consentUrl, { method: 'POST', redirect: 'manual', body })).headers.get('location')!);
    const choose = (await station.as(station.http().get(`${back.pathname}${back.search}`)).expect(303)).headers.location!.split('/').at(-1)!;
    return (
      await station
        .as(station.http().post(`/api/channels/links/${choose}`))
        .send({ identityId })
        .expect(201)
    ).body as ChannelView;
  }

  async close(): Promise<void> {
    await this.app.close();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

function freePort(): Promise<number> {
  return new Promise((done) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => done(port));
    });
  });
}

// Outside lines: named ways in to the product itself. Their keys are ours: made here, sealed, shown and replaced like all keys.
import type { OutsideArrival, OutsideLineView } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addRow, changeRow } from '../foundation/together';
import { Vault } from '../foundation/vault';
import { ShowRows } from '../shows/show-rows';
import { OutsideLine } from './outside.entities';

const MOST_LINES = 50;
/** 144 bits: nobody finds one by trying. */
const KEY_BYTES = 18;
/** Noted no more often than this, in ms. */
const USE_NOTED_EVERY_MS = 60_000;

@Injectable()
export class OutsideLinesService {
  /** What comes at this moment, by line. Written by whoever hears the air process. */
  private readonly arrivals = new Map<string, OutsideArrival>();

  constructor(
    private readonly database: DataSource,
    private readonly shows: ShowRows,
    private readonly vault: Vault,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  private get rows() {
    return this.database.getRepository(OutsideLine);
  }

  async list(stationId: string): Promise<OutsideLineView[]> {
    const lines = await this.rows.find({ where: { stationId }, order: { createdAt: 'ASC' } });
    const coming = await this.shows.inState(stationId, ['draft', 'placed', 'onAir', 'interrupted']);
    return lines.map((line) => ({
      ...{ id: line.id, name: line.name, lastUsedAt: line.lastUsedAt, ...this.addresses() },
      arrives: this.arrivals.get(line.id) ?? null,
      usedBy: coming.filter(({ pictureFrom, outsideLineId }) => pictureFrom === 'outside line' && outsideLineId === line.id).map(({ title }) => title),
    }));
  }

  async add(stationId: string, name: string): Promise<OutsideLineView[]> {
    if ((await this.rows.countBy({ stationId })) >= MOST_LINES)
      throw new PlainError(409, `A station has ${MOST_LINES} outside lines at most. Remove one first.`);
    await this.demandFree(stationId, name);
    const now = this.clock.now();
    await addRow(this.database.manager, OutsideLine, { id: randomUUID(), stationId, name: name.trim(), ...this.newKey(), createdAt: now, lastUsedAt: null });
    return this.list(stationId);
  }

  async rename(stationId: string, id: string, name: string): Promise<OutsideLineView[]> {
    const line = await this.one(stationId, id);
    if (line.name !== name.trim()) await this.demandFree(stationId, name);
    await changeRow(this.database.manager, OutsideLine, { id }, { name: name.trim() });
    return this.list(stationId);
  }

  /** Makes a new key; the old one is good for nothing from this moment. */
  async rotate(stationId: string, id: string): Promise<void> {
    await this.one(stationId, id);
    await changeRow(this.database.manager, OutsideLine, { id }, this.newKey());
  }

  async remove(stationId: string, id: string): Promise<void> {
    const line = (await this.list(stationId)).find((each) => each.id === id);
    if (!line) throw gone();
    if (line.usedBy.length) throw new PlainError(409, `The picture of “${line.usedBy[0]}” comes on this line. Choose another there first.`);
    await this.rows.delete({ id });
  }

  async one(stationId: string, id: string): Promise<OutsideLine> {
    const line = await this.rows.findOneBy({ id, stationId });
    if (!line) throw gone();
    return line;
  }

  key(line: OutsideLine): string {
    const opened = this.vault.open<{ key: string }>(line.sealed);
    if (!opened) throw new PlainError(409, 'The key file beside the data is lost, and with it this key. Make a new one.');
    return opened.key;
  }

  /** Whose key this is; null: nobody's, or one that has been replaced. */
  async byKey(key: string): Promise<OutsideLine | null> {
    const line = await this.rows.findOneBy({ keyHash: digestOf(key) });
    const now = this.clock.now();
    if (line && now - (line.lastUsedAt ?? 0) > USE_NOTED_EVERY_MS) await changeRow(this.database.manager, OutsideLine, { id: line.id }, { lastUsedAt: now });
    return line;
  }

  /** What comes on all lines at this moment. */
  arriving(now: ReadonlyMap<string, OutsideArrival>): void {
    this.arrivals.clear();
    for (const [id, arrival] of now) this.arrivals.set(id, arrival);
  }

  private addresses(): Pick<OutsideLineView, 'address' | 'secureAddress'> {
    const { rtmpPort, rtmpsPort, rtmpUrl, publicUrl } = this.settings;
    const { hostname } = new URL(publicUrl);
    return { address: rtmpUrl ?? `rtmp://${hostname}:${rtmpPort}/in`, secureAddress: rtmpsPort === null ? null : `rtmps://${hostname}:${rtmpsPort}/in` };
  }

  private newKey(): Pick<OutsideLine, 'sealed' | 'keyHash'> {
    const key = randomBytes(KEY_BYTES).toString('base64url');
    return { sealed: this.vault.seal({ key }), keyHash: digestOf(key) };
  }

  private async demandFree(stationId: string, name: string): Promise<void> {
    if (await this.rows.existsBy({ stationId, name: name.trim() }))
      throw new PlainError(409, 'There is a line of this name already. Encoders and people tell them apart by it.');
  }
}

const gone = () => new PlainError(404, 'This outside line was removed. Reload the page.');

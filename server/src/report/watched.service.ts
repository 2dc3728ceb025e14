// What the networks told of how many watched, worked out once for a show that is over: a long evening on many channels has tens of thousands of samples.
import { figuresOf, peakTogether, timesOfFault, watchingTogether, watchTimeOf, type AirSample } from '@lantern/core';
import { Injectable, Logger } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { AirSamples } from '../air/air-samples';
import { breathe } from '../foundation/breathe';
import { digestOf } from '../foundation/digest';
import { RemovalService } from '../shows/removal.service';
import type { Show } from '../shows/show.entities';
import { WatchedFigures, type Watched } from './report.entities';

/** Counts the ways in which it was worked out so far. */
const RECKONING = 1;
/** More moments draw no other picture; the finest that samples tell. */
const MOST_MOMENTS = 400;
const FINEST_MS = 5_000;

type Told = Pick<Show, 'id' | 'state' | 'onAirSince' | 'endedAt'>;

@Injectable()
export class WatchedService {
  private readonly log = new Logger('report');
  private readonly underWay = new Map<string, Promise<Watched>>();

  constructor(
    private readonly database: DataSource,
    private readonly samples: AirSamples,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'watched_figures', where: 'showId = ?' });
  }

  private get rows() {
    return this.database.getRepository(WatchedFigures);
  }

  /** Of these airings of a show, in their order. */
  async of(show: Told, airingIds: readonly string[]): Promise<Watched> {
    // Kept in one order, whoever asks.
    const order = [...airingIds].sort();
    const { peakTogether: peak, byAiring, watching } = await this.inOrder(show, order);
    const places = airingIds.map((id) => order.indexOf(id));
    return {
      peakTogether: peak,
      byAiring: places.map((at) => byAiring[at]!),
      watching: watching.map(({ at: moment, by }) => ({ at: moment, by: places.map((at) => by[at]!) })),
    };
  }

  private async inOrder(show: Told, order: readonly string[]): Promise<Watched> {
    if (show.state !== 'over') return this.workOut(show, order);
    // Samples that came late, or were thinned, make it another one.
    const mark = digestOf(JSON.stringify([RECKONING, show.onAirSince, show.endedAt, order, await this.samples.mark(order)]));
    const kept = await this.rows.findOneBy({ showId: show.id, mark });
    if (kept) return kept.figures;
    // Report and comparison ask at the same time.
    const begun = this.underWay.get(mark);
    if (begun) return begun;
    const work = this.workOut(show, order).finally(() => this.underWay.delete(mark));
    this.underWay.set(mark, work);
    const figures = await work;
    // Worked out once more the next time where it cannot be kept: a report is read on a full disk too.
    await this.rows.upsert({ showId: show.id, mark, figures }, ['showId']).catch((error: unknown) => this.log.warn(String(error)));
    return figures;
  }

  private async workOut({ onAirSince, endedAt }: Told, airingIds: readonly string[]): Promise<Watched> {
    const all: AirSample[][] = [];
    const byAiring: Watched['byAiring'] = [];
    for (const id of airingIds) {
      const { samples } = await this.samples.of(id);
      const { litMs, faultMs, peakWatching } = figuresOf(samples);
      const faults = timesOfFault(samples, '').map(({ from, to }) => ({ from, to }));
      byAiring.push({ litMs, faultMs, peakWatching, ...watchTimeOf(samples), faults });
      all.push(samples);
      // Pictures and others' questions come first.
      await breathe(1);
    }
    const ran = onAirSince !== null && endedAt !== null ? { from: onAirSince, to: endedAt } : null;
    const everyMs = ran && Math.max(FINEST_MS, Math.ceil((ran.to - ran.from) / MOST_MOMENTS));
    const watching = ran && everyMs ? watchingTogether(all, ran.from, ran.to, everyMs) : [];
    await breathe(1);
    return { peakTogether: peakTogether(all), byAiring, watching };
  }
}

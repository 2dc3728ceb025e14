// A show beside earlier ones of its series, or of its name where it belongs to none.
import type { ComparedShow, Comparison } from '@lantern/contract';
import { peakTogether, watchTimeOf } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { AirSamples } from '../air/air-samples';
import type { Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { AiringRows } from '../shows/airing-rows';
import { PastFiguresRows } from './past-figures';

/** More are no comparison but a history. */
const MOST = 20;

@Injectable()
export class ComparisonService {
  constructor(
    private readonly shows: ShowRows,
    private readonly airings: AiringRows,
    private readonly samples: AirSamples,
    private readonly past: PastFiguresRows,
  ) {}

  /** `from`, `to`: when the earlier ones began, in ms since the epoch. */
  async of(show: Show, from: number, to: number): Promise<Comparison> {
    const earlier = await this.shows.before(show, { from, to, most: MOST });
    return { own: await this.figures(show), earlier: await Promise.all(earlier.map((each) => this.figures(each))) };
  }

  private async figures({ id, title, startsAt, zone, onAirSince, endedAt }: Show): Promise<ComparedShow> {
    const past = await this.past.of(id);
    const { messages, questions } = await this.past.counts(id, past);
    const samples = await Promise.all((await this.airings.ofShow(id)).map(async (airing) => (await this.samples.of(airing.id)).samples));
    const times = samples.map(watchTimeOf).filter(({ toldMs }) => toldMs > 0);
    const told = Math.max(0, ...times.map(({ toldMs }) => toldMs));
    return {
      ...{ showId: id, title, startsAt, zone, lengthMs: onAirSince !== null && endedAt !== null ? endedAt - onAirSince : 0 },
      peak: past ? past.peakTogether : peakTogether(samples),
      average: told > 0 ? times.reduce((sum, { watchedMs }) => sum + watchedMs, 0) / told : null,
      // None is not known: what was written is kept for a while alone.
      messages: messages || null,
      questions: questions || null,
    };
  }
}

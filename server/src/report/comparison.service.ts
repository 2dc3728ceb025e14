// A show beside earlier ones of its series, or of its name where it belongs to none.
import type { ComparedShow, Comparison } from '@lantern/contract';
import { Injectable } from '@nestjs/common';
import type { Show } from '../shows/show.entities';
import { ShowRows } from '../shows/show-rows';
import { AiringRows } from '../shows/airing-rows';
import { PastFiguresRows } from './past-figures';
import { WatchedService } from './watched.service';

/** More are no comparison but a history. */
const MOST = 20;

@Injectable()
export class ComparisonService {
  constructor(
    private readonly shows: ShowRows,
    private readonly airings: AiringRows,
    private readonly watched: WatchedService,
    private readonly past: PastFiguresRows,
  ) {}

  /** `from`, `to`: when the earlier ones began, in ms since the epoch. */
  async of(show: Show, from: number, to: number): Promise<Comparison> {
    const earlier = await this.shows.before(show, { from, to, most: MOST });
    const own = await this.figures(show);
    const others: ComparedShow[] = [];
    for (const each of earlier) others.push(await this.figures(each));
    return { own, earlier: others };
  }

  private async figures(show: Show): Promise<ComparedShow> {
    const { id, title, startsAt, zone, onAirSince, endedAt } = show;
    const past = await this.past.of(id);
    const { messages, questions } = await this.past.counts(id, past);
    const watched = await this.watched.of(
      show,
      (await this.airings.ofShow(id)).map((airing) => airing.id),
    );
    const times = watched.byAiring.filter(({ toldMs }) => toldMs > 0);
    const told = Math.max(0, ...times.map(({ toldMs }) => toldMs));
    return {
      ...{ showId: id, title, startsAt, zone, lengthMs: onAirSince !== null && endedAt !== null ? endedAt - onAirSince : 0 },
      peak: past ? past.peakTogether : watched.peakTogether,
      average: told > 0 ? times.reduce((sum, { watchedMs }) => sum + watchedMs, 0) / told : null,
      // None is not known: what was written is kept for a while alone.
      messages: messages || null,
      questions: questions || null,
    };
  }
}

// What a running order comes to, in words.
import type { Running } from '../running-order/running';
import { dueAt, toShorten, type Cue, type RunningOrderTimes, type Stretch } from '../running-order/times';
import { SECOND_MS, type Instant } from '../time/instant';
import { sayTypedLength } from '../time/typed';
import { sayMoment } from '../time/zones';

const long = (ms: number): string => sayTypedLength(Math.ceil(Math.abs(ms) / SECOND_MS));
const called = ({ name }: Cue): string => (name.trim() ? `“${name.trim()}”` : 'a cue without a name');

/** What a stretch runs up to: “the end” or “before “Junction”, which begins at 21:22:09”. */
function before({ to, until }: Stretch, cues: readonly Cue[], zone: string): string {
  const next = cues[to];
  return next ? `before ${called(next)}, which begins at ${sayMoment(until, zone)}` : `at the end, ${sayMoment(until, zone)}`;
}

/** One sentence on a stretch that is over or leaves time, with what to do; null: it is on time. */
export function sayStretch(stretch: Stretch, cues: readonly Cue[], zone: string): string | null {
  const { overMs, from, to } = stretch;
  if (overMs === 0) return null;
  if (overMs < 0) return `${long(overMs)} free ${before(stretch, cues, zone)}.`;
  const { by, restMs } = toShorten(cues.slice(from, to), overMs);
  const shorter = by.map(({ cue, seconds }) => `${called(cue)} by ${sayTypedLength(seconds)}`);
  const advice = shorter.length
    ? ` Shorten ${shorter.join(' and ')}${restMs ? `, and leave out ${long(restMs)} more` : ''}.`
    : ' Begin it later, or leave something out.';
  return `${long(overMs)} over ${before(stretch, cues, zone)}.${advice}`;
}

/** What is due by the plan at a moment, for whoever runs the show: “Planets, 3:10 left; then The comet at 21:02.” */
export function sayDue(times: RunningOrderTimes, at: Instant, zone: string): string {
  const { now, then } = dueAt(times, at);
  const next = then && `${now ? 'then ' : ''}${then.cue.name.trim() || 'a cue without a name'} at ${sayMoment(then.startsAt, zone)}`;
  const name = now && (now.cue.name.trim() || 'A cue without a name');
  if (now) return `${name}, ${sayTypedLength(Math.ceil((now.endsAt - at) / SECOND_MS))} left${next ? `; ${next}` : ''}.`;
  if (next) return `${next[0]!.toUpperCase()}${next.slice(1)}.`;
  return 'All cues are past.';
}

/** How a running order that runs stands: “Opening, 0:40 over; then Planets. 0:50 late.” */
export function sayRunning({ on, leftMs, next, lateMs }: Running, zone: string): string {
  const name = on ? on.cue.name.trim() || 'A cue without a name' : 'What runs is in the running order no more';
  const left = !on ? '' : leftMs >= 0 ? `, ${long(leftMs)} left` : `, ${long(leftMs)} over`;
  const fixed = next?.cue.hardAt ? ` at ${sayMoment(next.startsAt, zone)}` : '';
  const then = next ? `; then ${next.cue.name.trim() || 'a cue without a name'}${fixed}` : '';
  const off = Math.abs(lateMs) < SECOND_MS ? 'On time' : `${next ? '' : 'The end is '}${long(lateMs)} ${lateMs > 0 ? 'late' : 'early'}`;
  return `${name}${left}${then}. ${off}.`;
}

/** How it stands as a whole, for a line: “4 cues, on time.” */
export function sayRunningOrder({ cues, stretches }: RunningOrderTimes): string {
  if (!cues.length) return 'Nothing is planned.';
  const count = cues.length === 1 ? '1 cue' : `${cues.length} cues`;
  const over = stretches.filter(({ overMs }) => overMs > 0);
  const worst = Math.max(0, ...over.map(({ overMs }) => overMs));
  const free = stretches.reduce((sum, { overMs }) => sum + Math.max(0, -overMs), 0);
  if (worst) return `${count}, ${long(worst)} over.`;
  return free ? `${count}, ${long(free)} free.` : `${count}, on time.`;
}

// What a channel's lamp shows while a show is on air. The network's own report decides; what we
// sent is only asked when the network cannot or does not answer.
import { earliestStart } from '../shows/check';
import type { Instant } from '../time/instant';
import type { RenditionNow } from './rendition';
import type { RuleSheet } from '../channels/rules';

export type Lamp = 'dark' | 'warm' | 'lit' | 'out' | 'fault';

/** What a network says about one event at one moment. `watching` is null where it does not tell. */
export interface NetworkReport {
  event: 'planned' | 'public' | 'over' | 'withdrawn' | 'missing';
  pictureArrives: boolean;
  watching: number | null;
  /** The playlist that its public player plays (RFC 8216), where the network tells of it. */
  playbackUrl?: string | null;
}

/** What our relay of one airing is doing. `said` is the far end's last complaint, without secrets. */
export interface RelayState {
  state: 'idle' | 'connecting' | 'sending' | 'waiting';
  said: string;
  /** When the next attempt is due; only while `waiting`. */
  nextTryAt: Instant | null;
  /** What is made for the channel, which takes less than goes out; missing: it gets that as it is. */
  rendition?: RenditionNow | null;
}

export interface AiringOnAir {
  placed: boolean;
  /** The channel takes nothing in advance and is being asked at this moment. */
  beingPlaced: boolean;
  /** A person has left it out at the start: it is begun by another press. */
  heldBack: boolean;
  /** The picture does not pass through here: an outside encoder sends it straight to the network. */
  fromOutside: boolean;
  startsAt: Instant;
  rules: Pick<RuleSheet, 'startsThere' | 'startWindow'>;
  relay: RelayState;
  /** The last report that arrived and when; null before the first and on channels that never report. */
  report: { at: Instant; facts: NetworkReport } | null;
  /** Since when the network has failed to answer; null while it answers. */
  silentSince: Instant | null;
  startRefused: string | null;
  /** The network no longer lets the station act for the account, so nothing can be asked or told. */
  accessEnded: boolean;
}

export type LampReason =
  | { code: 'held-back' | 'not-placed' | 'awaits-air' | 'being-placed' | 'nothing-arrives' | 'connecting' | 'being-started' | 'begins-by-itself' | 'public' }
  | { code: 'sent-unconfirmed' | 'outside-unconfirmed' | 'over' | 'ended-there' | 'withdrawn' | 'public-without-picture' | 'event-missing' | 'access-ended' }
  | { code: 'waits-for-start'; startsAt: number }
  | { code: 'waits-for-window'; opensAt: number }
  | { code: 'line-fails'; said: string; nextTryMs: number | null }
  | { code: 'network-silent'; silentMs: number }
  | { code: 'start-refused'; said: string };

export interface LampState {
  lamp: Lamp;
  reason: LampReason;
}

/** A network may miss a few answers before its silence is a fault. */
export const SILENCE_IS_FAULT_MS = 5_000;

/** The lamp of one airing at `now`, and why it shows that. */
export function lampOf(airing: AiringOnAir, now: Instant): LampState {
  const { relay, rules } = airing;
  if (airing.heldBack) return { lamp: 'dark', reason: { code: 'held-back' } };
  if (airing.beingPlaced) {
    if (airing.startRefused !== null) return { lamp: 'fault', reason: { code: 'start-refused', said: airing.startRefused } };
    return { lamp: 'dark', reason: { code: 'being-placed' } };
  }
  if (airing.accessEnded) return { lamp: 'fault', reason: { code: 'access-ended' } };
  if (!airing.placed) return { lamp: 'dark', reason: { code: 'not-placed' } };
  const facts = airing.report?.facts ?? null;
  if (facts?.event === 'over') return { lamp: 'out', reason: { code: 'ended-there' } };
  if (facts?.event === 'withdrawn') return { lamp: 'out', reason: { code: 'withdrawn' } };
  if (facts?.event === 'missing') return { lamp: 'fault', reason: { code: 'event-missing' } };
  if (relay.state === 'waiting') {
    const nextTryMs = relay.nextTryAt === null ? null : Math.max(0, relay.nextTryAt - now);
    return { lamp: 'fault', reason: { code: 'line-fails', said: relay.said, nextTryMs } };
  }
  if (airing.silentSince !== null && now - airing.silentSince >= SILENCE_IS_FAULT_MS) {
    return { lamp: 'fault', reason: { code: 'network-silent', silentMs: now - airing.silentSince } };
  }
  if (rules.startsThere === 'unknown') {
    if (airing.fromOutside) return { lamp: 'dark', reason: { code: 'outside-unconfirmed' } };
    // The picture goes out, and nobody says that it is not seen: it has to be taken for public.
    if (relay.state === 'sending') return { lamp: 'lit', reason: { code: 'sent-unconfirmed' } };
    return { lamp: 'dark', reason: { code: relay.state === 'connecting' ? 'connecting' : 'nothing-arrives' } };
  }
  if (facts?.event === 'public') {
    return facts.pictureArrives ? { lamp: 'lit', reason: { code: 'public' } } : { lamp: 'fault', reason: { code: 'public-without-picture' } };
  }
  if (!facts?.pictureArrives) {
    return { lamp: 'dark', reason: { code: relay.state === 'idle' ? 'nothing-arrives' : 'connecting' } };
  }
  const opensAt = rules.startWindow.earliestMs === null ? null : airing.startsAt + rules.startWindow.earliestMs;
  if (rules.startsThere === 'by itself' && opensAt !== null && now < opensAt) {
    return { lamp: 'warm', reason: { code: 'waits-for-start', startsAt: opensAt } };
  }
  if (opensAt !== null && now < opensAt) return { lamp: 'warm', reason: { code: 'waits-for-window', opensAt } };
  if (airing.startRefused !== null) return { lamp: 'fault', reason: { code: 'start-refused', said: airing.startRefused } };
  return { lamp: 'warm', reason: { code: rules.startsThere === 'told' ? 'being-started' : 'begins-by-itself' } };
}

/** From when on a show can be public on a channel, once its picture arrives there; null: at once. */
export function publicFrom(rules: Pick<RuleSheet, 'startWindow'>, startsAt: Instant): number | null {
  const { earliestMs } = rules.startWindow;
  return earliestMs === null ? null : startsAt + earliestMs;
}

/** Whether the network should be told now to make the airing public. */
export function shouldStartThere(airing: AiringOnAir, now: Instant): boolean {
  if (airing.rules.startsThere !== 'told' || !airing.placed || airing.heldBack) return false;
  const facts = airing.report?.facts;
  if (!facts || facts.event !== 'planned' || !facts.pictureArrives) return false;
  const { earliestMs } = airing.rules.startWindow;
  return earliestMs === null || now >= airing.startsAt + earliestMs;
}

/** Whether a person may have another event made there: it has ended, though we send; or its network refused to make it. */
export function mayBeMadeAnew({ placed, beingPlaced, heldBack, fromOutside, report, startRefused }: AiringOnAir): boolean {
  // An outside encoder has the key of the event that ended.
  if (heldBack || fromOutside) return false;
  if (beingPlaced) return startRefused !== null;
  const event = report?.facts.event;
  return placed && (event === 'over' || event === 'withdrawn' || event === 'missing');
}

/** For when an event is made while its show is on air, planned for `startsAt`, in ms since the epoch; null: for this moment. */
export function startOnAir(rules: RuleSheet, startsAt: Instant, now: Instant): number | null {
  if (!rules.maySchedule) return null;
  const earliest = earliestStart([rules], now);
  if (startsAt >= earliest) return startsAt;
  return rules.beginsUnannounced ? null : earliest;
}

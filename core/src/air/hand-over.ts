// Handing the stage over: whoever has it and whoever is to have it both say so, and until the new picture is there the old one stays. Nobody has to
// answer; nothing of it outlives a press of Take the stage.
import type { StagePerson } from './lease';

/** Nobody has answered by then: it is as if nobody had asked, in ms. */
export const ANSWER_WITHIN_MS = 60_000;
/** Both have agreed, and no steady picture has come by then: whoever had the stage keeps it, in ms. */
export const PICTURE_WITHIN_MS = 25_000;
/** A picture is ready to be seen once it has come for so long without a break, in ms. */
export const READY_AFTER_MS = 1_200;

export interface HandOver {
  /** The tab that has the stage. */
  from: { person: StagePerson; tab: string };
  to: { person: StagePerson; tab: string };
  /** The taker has asked, the holder has offered, or both have said yes and the taker’s picture is awaited. */
  state: 'asked' | 'offered' | 'coming';
  /** Since when it is in this state, in ms of a clock that only goes forward. */
  since: number;
}

export type HandOverEvent =
  | { type: 'asked' | 'offered'; from: HandOver['from']; to: HandOver['to'] }
  | { type: 'agreed' | 'declined'; tab: string }
  /** That tab is there no more. */
  | { type: 'gone'; tab: string }
  /** Its picture cannot be used. */
  | { type: 'broke' }
  /** Somebody has pressed Take the stage. */
  | { type: 'taken' }
  | { type: 'time' };

/** How one ends that has not come about. */
export type HandOverEnd =
  /** Whoever has the stage does not give it, or no longer. */
  | 'kept'
  /** Whoever was to have it does not take it, or no longer. */
  | 'left'
  | 'unanswered'
  | 'no picture'
  | 'gone'
  | 'taken';

export interface HandOverStep {
  handOver: HandOver | null;
  ended: HandOverEnd | null;
  /** False: it means nothing as things stand. */
  understood: boolean;
}

/** What a hand-over becomes by one event at `now`, in ms of the same clock. */
export function handOverAfter(handOver: HandOver | null, event: HandOverEvent, now: number): HandOverStep {
  const stays = { handOver, ended: null, understood: true };
  const means = (yes: boolean) => ({ ...stays, understood: yes });
  const ends = (ended: HandOverEnd) => ({ handOver: null, ended, understood: true });
  if (event.type === 'asked' || event.type === 'offered') {
    const { from, to } = event;
    if (from.tab === to.tab) return means(false);
    const begins = { ...stays, handOver: { from, to, state: event.type, since: now } };
    if (handOver === null) return begins;
    if (handOver.to.tab !== to.tab || handOver.from.tab !== from.tab) return means(false);
    // Each has said it by themselves: that is both.
    if (handOver.state !== 'coming' && handOver.state !== event.type) return { ...stays, handOver: { ...handOver, state: 'coming', since: now } };
    return stays;
  }
  if (handOver === null) return means(event.type !== 'agreed' && event.type !== 'declined');
  const { from, to, state } = handOver;
  switch (event.type) {
    case 'agreed': {
      // A second press finds it agreed.
      if (state === 'coming') return means(event.tab === from.tab || event.tab === to.tab);
      if (event.tab !== (state === 'asked' ? from.tab : to.tab)) return means(false);
      return { ...stays, handOver: { ...handOver, state: 'coming', since: now } };
    }
    case 'declined': {
      if (event.tab === from.tab) return ends('kept');
      return event.tab === to.tab ? ends('left') : means(false);
    }
    case 'gone':
      // Whoever has the stage may come back to it; the answer waits for them.
      return event.tab === to.tab ? ends('gone') : stays;
    case 'broke':
      return state === 'coming' ? ends('no picture') : stays;
    case 'taken':
      return ends('taken');
    case 'time': {
      const gone = now - handOver.since;
      if (state === 'coming') return gone >= PICTURE_WITHIN_MS ? ends('no picture') : stays;
      return gone >= ANSWER_WITHIN_MS ? ends('unanswered') : stays;
    }
  }
}

// One view of a show on air out of the two halves of what is known.
import type { AirView } from '@lantern/contract';
import { ranTogether, sayRoom } from '@lantern/core';
import type { CarriedState } from './messages';

/** What the planning server knows (lamps, people, disk), with what the air process knows better laid over it. `now` in ms since the epoch. */
export function laidOver(planned: AirView, carried: CarriedState, now: number): AirView {
  const { onAirSince } = carried;
  const { scene, lineOnStage, source, reason, chosen, backAt, cardSince, stageArrives, holder, connected, microphoneOn, recordedMs, kept } = carried;
  return {
    ...planned,
    // What the planning server last said may be from before: what is carried is on air.
    showState: 'onAir',
    onAirSince,
    programme: scene,
    ran: ranTogether(planned.ran, carried.ran),
    farEnd: carried.farEnd ?? null,
    lineOnStage: lineOnStage ?? null,
    graphic: carried.graphic ?? null,
    ...{ source: source ?? null, sourceReason: reason, chosen, backAt: backAt ?? null, cardSince: cardSince ?? null, stageArrives, recordedMs },
    holder: { personId: holder.personId, name: holder.name, connected, microphoneOn, hasSent: (holder.tab ?? null) !== null },
    roomWords: kept ? planned.roomWords : sayRoom({ code: 'broken off' }),
    now,
  };
}

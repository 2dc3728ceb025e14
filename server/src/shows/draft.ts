// A show as its sheet holds it, and back.
import type { ShowDraft } from '@lantern/contract';
import { MINUTE_MS, ownValues, sheetOf, startOf, tidied, type KeptOfSheet } from '@lantern/core';
import { PlainError } from '../foundation/errors';
import type { Airing, Show } from './show.entities';

export function draftOf(show: Show, airings: readonly Airing[]): ShowDraft {
  return sheetOf(show, airings);
}

/** What of a sheet is kept with the show itself. Throws where its time cannot be read. */
export function plannedFacts(draft: ShowDraft): KeptOfSheet {
  const startsAt = startOf(draft);
  if (startsAt === null) throw new PlainError(400, 'This date and time cannot be read in this zone. Choose another.');
  return { ...ownValues(tidied(draft)), startsAt, zone: draft.zone, lengthMs: draft.lengthMin * MINUTE_MS };
}

// What one sees in a recording, by what happened while it was made.
import { inRecording, type Happening, type RecordedPart, type Scene, type SeenFrom } from '@lantern/core';

/** In ms of the recording, each only where it differs from the one before. `onAirSince`: when the programme began, in ms since the epoch. */
export function seenFrom(
  happenings: readonly Happening[],
  scenes: readonly Pick<Scene, 'id' | 'card'>[],
  onAirSince: number,
  parts: readonly RecordedPart[],
): SeenFrom[] {
  const cards = new Map(scenes.map(({ id, card }) => [id, card]));
  let scene: SeenFrom['what'] = 'holding';
  let onBreak = false;
  const seen: SeenFrom[] = [];
  for (const { kind, what, at } of happenings) {
    if (kind === 'source') onBreak = what === 'break card';
    else if (kind === 'scene') {
      const card = cards.get(what ?? '') ?? null;
      scene = card === 'holding' || card === 'closing' ? card : 'show';
    } else continue;
    const now = onBreak ? 'break card' : scene;
    const atMs = inRecording(parts, at - onAirSince);
    if (atMs === null || seen.at(-1)?.what === now) continue;
    // Two that come at one moment of the recording: the later one is what is seen.
    if (seen.at(-1)?.atMs === atMs) seen.pop();
    if (seen.at(-1)?.what !== now) seen.push({ atMs, what: now });
  }
  return seen;
}

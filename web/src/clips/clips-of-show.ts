// What is played into a show, as it stands in the library by now.
import type { ArtworkView, ClipView, ShowDraft } from '@lantern/contract';
import type { ClipInShow, LookChoices } from '@lantern/core';

/** Something that can be played. `kind` null: it is in the library no more, or not ready. Times in ms. */
export interface Playable {
  kind: 'film' | 'sound' | 'still' | null;
  name: string;
  /** As the stage fetches it. */
  url: string;
  fromMs: number;
  untilMs: number | null;
  /** How long it is played; of a still 0. */
  lengthMs: number;
  rights: string;
}

const GONE: Playable = { kind: null, name: 'Something that was taken out of the library', url: '', fromMs: 0, untilMs: null, lengthMs: 0, rights: '' };

export function playableOf({ from, item }: Pick<ClipInShow, 'from' | 'item'>, clips: readonly ClipView[], pieces: ArtworkView['pieces']): Playable {
  if (from === 'still') {
    const piece = pieces.find(({ id }) => id === item);
    return piece ? { ...GONE, kind: 'still', name: piece.name, url: piece.url, rights: piece.rights } : GONE;
  }
  const clip = clips.find(({ id }) => id === item);
  if (!clip) return GONE;
  const { name, airUrl, kind, inMs, outMs, lengthMs, rights } = clip;
  return { kind: airUrl ? kind : null, name, url: airUrl ?? '', fromMs: inMs, untilMs: outMs, lengthMs: (outMs ?? lengthMs) - inMs, rights };
}

/** A work that a show uses, and how it is known in the library. */
export interface WorkOfShow {
  from: ClipInShow['from'];
  item: string;
  name: string;
  rights: string;
}

type Used = Pick<ClipInShow, 'from' | 'item'>;

/** Everything of the library that goes out with a show in its look, once each. */
export function worksOf(
  draft: Pick<ShowDraft, 'clips' | 'breakMusicId'>,
  { stingId, background }: Pick<LookChoices, 'stingId' | 'background'>,
  clips: readonly ClipView[],
  pieces: ArtworkView['pieces'],
): WorkOfShow[] {
  const used: Used[] = [
    ...(draft.clips ?? []),
    ...[draft.breakMusicId, stingId].flatMap((item): Used[] => (item ? [{ from: 'clip', item }] : [])),
    ...(background?.kind === 'picture' ? [{ from: 'still', item: background.pieceId } satisfies Used] : []),
  ];
  const once = used.filter(({ item }, at) => used.findIndex((other) => other.item === item) === at);
  return once.flatMap(({ from, item }) => {
    const { name, rights, kind } = playableOf({ from, item }, clips, pieces);
    return kind === null ? [] : [{ from, item, name, rights }];
  });
}

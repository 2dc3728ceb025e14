// What really happened while a show was on air, moment by moment: for its report, and for chapters and cuts later.
import type { CueRan } from '../running-order/running';

export const HAPPENINGS = ['scene', 'cue', 'graphic', 'clip', 'source'] as const;
export type HappeningKind = (typeof HAPPENINGS)[number];

/** `what`: by its identifier; null: it was taken away. `at`: in ms since the epoch, by the server's clock. */
export interface Happening {
  kind: HappeningKind;
  what: string | null;
  at: number;
}

/** How a show stands, as far as it is told later. */
export interface StandsNow {
  scene: string;
  ran: readonly CueRan[];
  graphic: string | null;
  clip: string | null;
  source: string | null;
}

/** What was told last of each kind; missing: nothing was. */
export type LastTold = Partial<Record<HappeningKind, { what: string | null; at: number }>>;

/** What is new at `at`. A cue has the moment at which it began. */
export function happened(last: LastTold, { scene, ran, graphic, clip, source }: StandsNow, at: number): Happening[] {
  const changed = ([kind, what]: readonly [HappeningKind, string | null]): Happening[] => ((last[kind]?.what ?? null) === what ? [] : [{ kind, what, at }]);
  const cues = ran.filter((each) => each.at > (last.cue?.at ?? -Infinity)).map((each): Happening => ({ kind: 'cue', what: each.cue, at: each.at }));
  return [
    ...cues,
    ...(
      [
        ['scene', scene],
        ['graphic', graphic],
        ['clip', clip],
        ['source', source],
      ] as const
    ).flatMap(changed),
  ];
}

/** What was told last, once this was told too. */
export const toldWith = (last: LastTold, all: readonly Happening[]): LastTold =>
  all.reduce<LastTold>((before, { kind, what, at }) => ({ ...before, [kind]: { what, at } }), last);

// What a stage asks of its browser, and how it names itself to the server.
import { randomName } from '../app/random-name';
import type { AirView, Me } from '@lantern/contract';
import { useEffect, useState } from 'react';

/** Narrower than this a stage is for looking on, muting and ending, not for running. */
export const NARROWEST_PX = 720;

const TAB_KEY = 'lantern-stage-tab';
const NUMBER_KEY = 'lantern-stage-number';

/** So long a reload waits for the page before it to let go of the tab's name. */
const NAME_MAY_TAKE_MS = 600;

/**
 * Names this tab, so that the server knows it again after a reload, or after it had died. Copied tabs have the same memory: whoever
 * holds the name by a lock (Web Locks API) is the tab that it names, and any other gets a name of its own.
 */
async function tabName(): Promise<string> {
  const kept = sessionStorage.getItem(TAB_KEY);
  if (kept !== null && (await hold(kept))) return kept;
  const name = randomName(12);
  sessionStorage.setItem(TAB_KEY, name);
  sessionStorage.removeItem(NUMBER_KEY);
  await hold(name);
  return name;
}

/** Holds a name for as long as this page lives. False: another page has it. */
async function hold(name: string): Promise<boolean> {
  // Without a secure connection there are no locks; there is no camera either.
  if (!navigator.locks) return (performance.getEntriesByType('navigation') as PerformanceNavigationTiming[])[0]?.type === 'reload';
  return new Promise((held) => {
    const whileItLives = () => {
      held(true);
      return new Promise<never>(() => undefined);
    };
    navigator.locks.request(`lantern-stage-${name}`, { signal: AbortSignal.timeout(NAME_MAY_TAKE_MS) }, whileItLives).catch(() => held(false));
  });
}

let named: Promise<string> | null = null;

/** This tab's name; null until it is known. */
export function useTab(): string | null {
  const [name, setName] = useState<string | null>(null);
  useEffect(() => {
    let looks = true;
    void (named ??= tabName()).then((known) => looks && setName(known));
    return () => void (looks = false);
  }, []);
  return name;
}

/** The number of the last command of this tab: a reload counts on from it. */
export const tabNumbers = () => ({
  last: Number(sessionStorage.getItem(NUMBER_KEY) ?? 0) || 0,
  keep: (last: number) => sessionStorage.setItem(NUMBER_KEY, String(last)),
});

/** `sends`: whether a programme can be sent from here; a phone only looks on and asks. */
export function stageAddress({ url, port }: Me['air'], showId: string, tab: string, sends = true): string {
  const scheme = window.location.protocol === 'https:' ? 'wss' : 'ws';
  const base = url?.replace(/^http/, 'ws') ?? `${scheme}://${window.location.hostname}:${port}`;
  return `${base}/api/stage/${showId}?tab=${tab}${sends ? '' : '&sends=no'}`;
}

/** The planning server speaks twice a second; older than this, and nothing is known of the channels any more. */
const PLANNED_IS_OLD_MS = 4_000;

/** Since when nothing is known of the channels; null: it is known. `unheardSince`: since when no server is heard at all. */
export function lampsUnknownSince(air: AirView | null, unheardSince: number | null): number | null {
  if (unheardSince !== null) return unheardSince;
  return air && air.now - air.plannedAt > PLANNED_IS_OLD_MS ? air.plannedAt : null;
}

/** Whether the show on air is another stage's: what is seen here is not what goes out. */
export function isElsewhere(air: AirView | null): boolean {
  return air?.showState === 'onAir' && !air.holdsIt && air.holder !== null && air.holder.hasSent;
}

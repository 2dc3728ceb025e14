// What a stage asks of its browser, and how it names itself to the server.
import type { AirView } from '@lantern/contract';

/** Narrower than this a stage is for looking on, muting and ending, not for running. */
export const NARROWEST_PX = 720;

const TAB_KEY = 'lantern-stage-tab';

/** Names this tab, so that the server knows it again after a reload. A tab that was opened anew, or copied, is another one. */
function tabName(): string {
  const [navigation] = performance.getEntriesByType('navigation') as PerformanceNavigationTiming[];
  const kept = navigation?.type === 'reload' ? sessionStorage.getItem(TAB_KEY) : null;
  const name = kept ?? Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, '0')).join('');
  sessionStorage.setItem(TAB_KEY, name);
  return name;
}

const TAB = tabName();

/** `sends`: whether a programme can be sent from here; a phone only looks on and asks. */
export function stageAddress(showId: string, sends = true): string {
  const scheme = window.location.protocol === 'https:' ? 'wss' : 'ws';
  return `${scheme}://${window.location.host}/api/stage/${showId}?tab=${TAB}${sends ? '' : '&sends=no'}`;
}

/** Whether the show on air is another stage's: what is seen here is not what goes out. */
export function isElsewhere(air: AirView | null): boolean {
  return air?.showState === 'onAir' && !air.holdsIt && air.holder !== null && air.holder.connected;
}

// The ways by which WebRTC gets through other people's routers. Who may use a relay is said by a name and a word that are good for some hours
// (“A REST API For Access To TURN Services”, draft-uberti-behave-turn-rest-00, as coturn has it with `use-auth-secret`).
import type { WayThrough } from '@lantern/contract';
import { createHmac } from 'node:crypto';
import type { Settings } from '../foundation/settings';

const GOOD_FOR_S = 6 * 3_600;

export function waysThrough(
  { stunUrls, turnUrls, turnSecret }: Pick<Settings, 'stunUrls' | 'turnUrls' | 'turnSecret'>,
  who: string,
  now: number,
): WayThrough[] {
  const stun = stunUrls.length ? [{ urls: [...stunUrls] }] : [];
  if (!turnUrls.length || turnSecret === null) return stun;
  const username = `${Math.floor(now / 1_000) + GOOD_FOR_S}:${who}`;
  const credential = createHmac('sha1', turnSecret).update(username).digest('base64');
  return [...stun, { urls: [...turnUrls], username, credential }];
}

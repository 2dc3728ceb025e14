// The server's clock in the browser: a visitor's own may be wrong.
import { instant, type Instant } from '@lantern/core';
import { useEffect, useState } from 'react';

let aheadMs = 0;

/** Notes what the server's clock showed just now. */
export function noteServerNow(now: number): void {
  aheadMs = now - Date.now();
}

export function serverNow(): Instant {
  return instant(Date.now() + aheadMs);
}

/** How far the server's clock is ahead of this one, in ms. */
export const serverAheadMs = () => aheadMs;

/** The present, drawn anew every `everyMs`. */
export function useNow(everyMs = 1_000): Instant {
  const [now, setNow] = useState(serverNow);
  useEffect(() => {
    const timer = setInterval(() => setNow(serverNow()), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return now;
}

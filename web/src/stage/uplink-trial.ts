// How fast this browser's line to the server is: tried once, before anything is on air.
import { UPLINK_TRIAL_BYTES } from '@lantern/contract';
import type { StageFacts } from '@lantern/core';
import { useEffect, useState } from 'react';

const MAY_TAKE_MS = 8_000;
/** Bytes that cannot be made smaller on the way; as many at once as browsers give. */
const AT_ONCE = 65_536;

type Uplink = StageFacts['uplinkKbps'];

/** In kbit/s. */
function tryUplink(onDone: (kbps: Uplink) => void): () => void {
  const bytes = new Uint8Array(UPLINK_TRIAL_BYTES);
  for (let at = 0; at < bytes.length; at += AT_ONCE) crypto.getRandomValues(bytes.subarray(at, at + AT_ONCE));
  const request = new XMLHttpRequest();
  let loaded = 0;
  let begun = 0;
  const kbpsAt = (sent: number) => (sent * 8) / Math.max(1, performance.now() - begun);
  request.open('POST', '/api/uplink');
  request.setRequestHeader('content-type', 'application/octet-stream');
  request.timeout = MAY_TAKE_MS;
  request.upload.onprogress = (event) => (loaded = event.loaded);
  request.onload = () => onDone(request.status === 204 ? kbpsAt(bytes.length) : 'could not be measured');
  request.ontimeout = () => onDone(kbpsAt(loaded));
  request.onerror = () => onDone('could not be measured');
  begun = performance.now();
  request.send(bytes);
  return () => request.abort();
}

/** What the line carries, in kbit/s; null: it is being tried. Tried once where it is `wanted`. */
export function useUplink(wanted: boolean): Uplink {
  const [kbps, setKbps] = useState<Uplink>(null);
  useEffect(() => (wanted ? tryUplink(setKbps) : undefined), [wanted]);
  return kbps;
}

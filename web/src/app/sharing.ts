// A screen is shared from this browser: what is secret on any of its pages goes at once. The server shows none from then on.

const NAME = 'lantern-sharing';

/** Says to every page of this browser that a screen is shared from now on. */
export function tellSharingHere(): void {
  if (!window.BroadcastChannel) return;
  const others = new BroadcastChannel(NAME);
  others.postMessage('shares');
  others.close();
}

/** Has `then` called whenever that begins. Returns what ends it. */
export function onSharingHere(then: () => void): () => void {
  if (!window.BroadcastChannel) return () => undefined;
  const others = new BroadcastChannel(NAME);
  others.onmessage = then;
  return () => others.close();
}

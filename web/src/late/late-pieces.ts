// What this browser still has of recordings: one worker a page, for stages and for whoever comes back later.
import { create } from 'zustand';
import type { LateKeeper } from './keeper';
import { LATE_FOLDER, type LateState } from './late-store';
import type { ToLate } from './late.worker';

export const useLate = create<LateState>(() => ({ waitingBytes: 0, trouble: '' }));

let worker: Worker | null | undefined;

/** Null: this browser has no store of that kind, and what does not arrive in time is lost. */
function theWorker(): Worker | null {
  if (worker !== undefined) return worker;
  if (!('storage' in navigator) || !('getDirectory' in navigator.storage)) return (worker = null);
  worker = new Worker(new URL('./late.worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<LateState>) => useLate.setState(data);
  return worker;
}

const tell = (message: ToLate): void => theWorker()?.postMessage(message);

/** For the stage of one show. */
export function lateKeeper(showId: string): LateKeeper {
  return {
    keep: (stretch, from, bytes) => tell({ type: 'keep', showId, stretch, from, bytes }),
    name: (stretch) => tell({ type: 'name', showId, stretch }),
    drop: (stretch) => tell({ type: 'drop', showId, stretch }),
    end: (stretch) => tell({ type: 'end', showId, stretch }),
    send: sendWhatIsLeft,
  };
}

/** Where this browser has something from before, sends it. Asked when a page is opened: no worker is begun for nothing. */
export async function sendWhatIsThere(): Promise<void> {
  const folder = await navigator.storage?.getDirectory?.().then((root) => root.getDirectoryHandle(LATE_FOLDER));
  for await (const name of folder?.keys() ?? []) return name ? sendWhatIsLeft() : undefined;
}

/** Sends what an earlier page of this browser could not. */
export function sendWhatIsLeft(): void {
  tell({ type: 'send' });
}

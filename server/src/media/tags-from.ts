// What a converter makes as FLV, tag by tag, as fast as it is asked for.
import { FlvReader, type FlvTag } from '@lantern/core';
import { MediaProcess } from './media-process';

/** What waits at the most for whoever asks; beyond it the converter is held back. */
const MOST_WAITING_BYTES = 4_000_000;
const PATIENCE_MS = 10_000;
/** FLV knows no times before 0, and pictures may be decoded before the first is shown: all are written so much later. */
const LATER_MS = 10_000;
const AS_FLV = ['-avoid_negative_ts', 'disabled', '-output_ts_offset', String(LATER_MS / 1_000), '-f', 'flv', 'pipe:1'];

/** The tags that ffmpeg makes with `args`, which name no output, with their own times, which may be below 0. Ends it when nobody wants more of them; throws with its last words where it fails. */
export async function* tagsFrom(ffmpeg: string, args: string[], signal: AbortSignal): AsyncGenerator<FlvTag> {
  const reader = new FlvReader();
  let waiting: FlvTag[] = [];
  let bytes = 0;
  let gone: string | null = null;
  let over = false;
  let wake: () => void = () => undefined;
  let goOn: (() => void) | null = null;
  const media = new MediaProcess({
    name: 'cut',
    ffmpeg,
    args: [...args, ...AS_FLV],
    onOutput: (output) => {
      // What nobody wants any more is let go: a process whose output is held back does not end.
      if (over) return;
      try {
        for (const tag of reader.push(output)) {
          waiting.push({ ...tag, timestampMs: tag.timestampMs - LATER_MS });
          bytes += tag.data.length;
        }
      } catch (error) {
        gone = (error as Error).message;
        media.kill();
      }
      if (bytes > MOST_WAITING_BYTES && !goOn) media.holdBack(new Promise<void>((resolve) => (goOn = resolve)));
      wake();
    },
    onGone: (words) => {
      gone ??= words;
      wake();
    },
  });
  media.stepBack();
  const stop = () => media.kill();
  signal.addEventListener('abort', stop);
  try {
    for (;;) {
      signal.throwIfAborted();
      const tags = waiting;
      waiting = [];
      bytes = 0;
      (goOn as (() => void) | null)?.();
      goOn = null;
      yield* tags;
      if (waiting.length) continue;
      if (gone !== null) break;
      await new Promise<void>((resolve) => (wake = resolve));
    }
    if (!(await media.end(PATIENCE_MS))) throw new Error(gone || 'The program that reads it ended early.');
  } finally {
    over = true;
    signal.removeEventListener('abort', stop);
    (goOn as (() => void) | null)?.();
    media.kill();
    await media.end(PATIENCE_MS);
  }
}

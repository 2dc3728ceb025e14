// A program that does one thing and ends, behind everything else on the machine.
import { MediaProcess } from './media-process';

const MAY_TAKE_MS = 30 * 60_000;

/** Has ffmpeg do something to its end, behind everything else; throws with its last words where it fails. */
export async function runToEnd(ffmpeg: string, args: string[], onOutput: (bytes: Buffer) => void, signal: AbortSignal): Promise<void> {
  signal.throwIfAborted();
  let words = '';
  const media = new MediaProcess({ name: 'cut', ffmpeg, args, onOutput, onGone: (last) => (words = last) });
  media.stepBack();
  const stop = () => media.kill();
  signal.addEventListener('abort', stop);
  try {
    if (!(await media.end(MAY_TAKE_MS))) {
      signal.throwIfAborted();
      throw new Error(words || 'The program that reads it ended early.');
    }
  } finally {
    signal.removeEventListener('abort', stop);
  }
}

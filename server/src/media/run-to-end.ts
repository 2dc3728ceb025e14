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

/**
 * Has ffmpeg write a file; `onProgress` gets how much of it is written, in ms. What it says of its progress goes to whoever began it, so that it
 * ends by itself where that was killed (SIGPIPE, POSIX.1-2017) and does not write on for an hour.
 */
export function runToFile(ffmpeg: string, args: string[], onProgress: (ms: number) => void, signal: AbortSignal): Promise<void> {
  return runToEnd(ffmpeg, ['-progress', 'pipe:1', ...args], (bytes) => lastNumber(bytes, OUT_TIME, 1_000, onProgress), signal);
}

/** In microseconds, whatever its name says. */
const OUT_TIME = /out_time_ms=(\d+)/g;

/** Tells the last number that an output names in that way, each `per` of which are one; nothing where it names none. */
export function lastNumber(output: Buffer, pattern: RegExp, per: number, tell: (number: number) => void): void {
  const last = [...String(output).matchAll(pattern)].at(-1)?.[1];
  if (last !== undefined) tell(Number(last) / per);
}

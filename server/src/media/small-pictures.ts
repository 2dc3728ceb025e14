// Pictures made small and grey by ffmpeg, to be compared: in a process of its own, and never where pictures pass.
import { PRINT, PRINT_BYTES } from '@lantern/core';
import { MediaProcess } from './media-process';

const MAY_TAKE_MS = 15_000;
/** More pictures than are ever compared at once: a file that has more is made to. */
const MOST_PICTURES = 200;

/** The pictures of a stream, in order, at the most `most`. `reader`: ffmpeg's name for what it is. What cannot be read gives none. */
export async function smallPictures(ffmpeg: string, reader: 'flv' | 'mpegts', bytes: readonly Uint8Array[], most = MOST_PICTURES): Promise<Uint8Array[]> {
  const out: Buffer[] = [];
  let length = 0;
  const size = `scale=${PRINT.width}:${PRINT.height}:flags=area,format=gray`;
  const process = new MediaProcess({
    name: 'small pictures',
    ffmpeg,
    // The reader is named, so that a list of other files is read by none.
    args: ['-protocol_whitelist', 'pipe', '-threads', '1', '-f', reader, '-i', 'pipe:0', '-an', '-sn', '-dn', '-vf', size, '-vsync', 'passthrough'].concat([
      ...['-frames:v', String(most), '-threads', '1', '-f', 'rawvideo', 'pipe:1'],
    ]),
    onOutput: (piece) => {
      length += piece.length;
      if (length <= most * PRINT_BYTES) out.push(piece);
    },
    onGone: () => undefined,
  });
  process.stepBack();
  for (const each of bytes) process.write(each);
  await process.end(MAY_TAKE_MS);
  const all = Buffer.concat(out);
  return Array.from({ length: Math.floor(all.length / PRINT_BYTES) }, (_, at) => all.subarray(at * PRINT_BYTES, (at + 1) * PRINT_BYTES));
}

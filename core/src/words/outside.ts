// What is said of outside lines and of what comes on them.
import type { BeyondLimit, OutsideFacts, OutsideTrouble } from '../air/outside-signal';

/** One line of facts: `1280×720, 30 pictures a second, 2,480 kbit/s, a key frame every 2.0 s, AAC 48 kHz`. */
export function sayOutsideFacts(facts: OutsideFacts): string {
  const { video, width, height, framesPerSecond, kbps, keyFramesMs, audio, soundRate } = facts;
  if (video === null && audio === null) return 'Nothing can be told of it yet';
  return [
    width !== null && height !== null ? `${width}×${height}` : video,
    framesPerSecond !== null && `${framesPerSecond} pictures a second`,
    kbps !== null && `${kbps.toLocaleString('en')} kbit/s`,
    keyFramesMs !== null && `a key frame every ${(keyFramesMs / 1000).toFixed(1)} s`,
    audio === null ? 'no sound' : `${audio}${soundRate ? ` ${soundRate / 1000} kHz` : ''}`,
  ]
    .filter(Boolean)
    .join(', ');
}

export function sayOutsideTrouble(trouble: OutsideTrouble): string {
  switch (trouble.code) {
    case 'codec':
      return `Its ${trouble.what} is ${trouble.codec ?? 'of an unknown kind'}; networks take ${trouble.what === 'picture' ? 'H.264' : 'AAC'}.`;
    case 'shape':
      return `Its picture is ${trouble.width}×${trouble.height}, which is not 16 to 9.`;
    case 'too large':
      return `Its picture has ${trouble.height} lines; 720 go out.`;
    case 'frame rate':
      return trouble.framesPerSecond > 30
        ? `It sends ${trouble.framesPerSecond} pictures a second; 30 go out.`
        : `It sends only ${trouble.framesPerSecond} pictures a second: movement looks jerky. Set the encoder to 25 or 30.`;
    case 'key frames':
      return `Its key frames are ${(trouble.everyMs / 1000).toFixed(1)} s apart, and networks want one every 2 s.`;
    case 'rate':
      return `It sends ${trouble.kbps.toLocaleString('en')} kbit/s, more than networks take.`;
    case 'no sound':
      return 'It sends no sound: viewers hear nothing.';
  }
}

/** What one channel would not take. `channel`: its name in full. */
export function sayBeyondLimit(beyond: BeyondLimit, channel: string): string {
  const rate = (kbps: number) => `${kbps.toLocaleString('en')} kbit/s`;
  switch (beyond.code) {
    case 'lines':
      return `${channel} takes ${beyond.most} lines at most; this has ${beyond.height}.`;
    case 'above':
      return `${channel} takes ${rate(beyond.most)} at most; this has ${rate(beyond.kbps)}, and may be cut off. Set the encoder lower.`;
    case 'below':
      return `${channel} asks for at least ${rate(beyond.least)}; this has ${rate(beyond.kbps)}. It may look coarse there.`;
  }
}

/** What is done about a picture that cannot go out as it comes, and what it costs. */
export const NORMALISED =
  'It is made anew before it goes out, at 1280×720: this takes about one processor core here, and half a second more. Set the encoder to 1280×720, H.264, 30 pictures a second, a key frame every 2 s and AAC, and it goes out as it comes.';

/** What each way from an encoder can and cannot do, on the sheet. */
export const WAYS_IN = {
  stage: 'Camera and microphone of your browser, with scenes, break card, recording and a picture on the house page.',
  'outside line':
    'An encoder or a meeting sends here once, and every channel, the house page and the recording get it, with the break card when it falls silent. Scenes and straps of the stage are not in it.',
  encoder:
    'An encoder sends straight to each channel, by one key a channel. Nothing passes through here: no break card, no recording, no picture on the house page.',
} as const;

/** Why an encoder at an outside line is refused. Encoders show this. */
export const OUTSIDE_REFUSALS = {
  unknown: 'This key is not known here. It may have been replaced by a new one.',
  app: 'This address is not known here. Copy it once more, up to its end.',
  busy: 'Somebody else sends on this line at this moment.',
  away: 'The line cannot be looked up at this moment. Try again in a few seconds.',
} as const;

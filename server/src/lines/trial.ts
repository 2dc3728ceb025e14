// Tries an address and a key as an encoder would, without a picture: connects, shows the key, sends a
// moment of silence.
import type { TrialResult } from '@lantern/contract';
import { readIngestAddress, readKey } from '@lantern/core';
import { IngestTunnel, Unreachable } from '../media/ingest-tunnel';
import { MediaProcess, rtmpSecret, SECRET_FILE } from '../media/media-process';
import type { Settings } from '../foundation/settings';
import { farWords } from '../media/relay';

const TRIAL_MAY_TAKE_MS = 10_000;

/** Never throws: whatever is found is an answer. */
export async function tryLine(
  typedAddress: string,
  typedKey: string,
  { ffmpeg, privateTargets }: Pick<Settings, 'ffmpeg' | 'privateTargets'>,
): Promise<TrialResult> {
  const reading = readIngestAddress(typedAddress);
  const address = reading.ok ? reading.address : typedAddress;
  const key = readKey(typedKey)!.key;
  let tunnel: IngestTunnel;
  try {
    tunnel = await IngestTunnel.open(address, privateTargets);
  } catch (error) {
    if (!(error instanceof Unreachable)) throw error;
    const found = error.certificate ? 'certificate' : 'unreachable';
    return { found, words: `Nothing was sent: ${error.message}. Compare the address with what the service shows.` };
  }
  const { taken, said } = await new Promise<{ taken: boolean; said: string }>((resolve) => {
    let begun = false;
    const process = new MediaProcess({
      name: 'trial',
      ffmpeg,
      args: [
        '-f',
        'lavfi',
        '-i',
        'anullsrc=r=44100:cl=stereo',
        '-t',
        '0.3',
        '-c:a',
        'aac',
        '-progress',
        'pipe:1',
        '-f',
        'flv',
        '-flvflags',
        'no_duration_filesize',
      ].concat(['-fpre', SECRET_FILE, tunnel.nearAddress]),
      secret: rtmpSecret(address, key),
      onOutput: (bytes) => (begun ||= /out_time_ms=[1-9]/.test(String(bytes))),
      onGone: (lastWords) => {
        clearTimeout(timer);
        tunnel.close();
        resolve({ taken: begun && !farWords(lastWords), said: farWords(lastWords) ?? '' });
      },
    });
    const timer = setTimeout(() => process.kill(), TRIAL_MAY_TAKE_MS);
  });
  if (taken) return { found: 'taken', words: 'The service answers and takes this key.' };
  if (said) return { found: 'refused', words: `The service answers, but refuses: ${said}. Compare the key with what the service shows.` };
  return { found: 'not-rtmp', words: 'Something answers at this address, but not as an ingest does. Compare the address with what the service shows.' };
}

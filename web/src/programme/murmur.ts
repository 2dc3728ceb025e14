// A murmur of made-up speech, for stages without a microphone: noise, shaped into syllables with pauses between sentences.
import { MURMUR_S, murmurAt } from '@lantern/core';

/** Plays round and round until it is stopped. */
export function murmur(context: BaseAudioContext): AudioBufferSourceNode {
  const buffer = context.createBuffer(1, MURMUR_S * context.sampleRate, context.sampleRate);
  const samples = buffer.getChannelData(0);
  let low = 0;
  for (let at = 0; at < samples.length; at++) {
    // One pole: what is left of noise is about as deep as a voice.
    low += 0.06 * (Math.random() * 2 - 1 - low);
    samples[at] = low * 1.6 * murmurAt(at / context.sampleRate);
  }
  const source = context.createBufferSource();
  source.buffer = buffer;
  source.loop = true;
  source.start();
  return source;
}

// Made-up speech: words and pauses of noise, the same for the same seed.

/** Samples of 16 bits, `rate` a second. `pauseS`: the longest pause. */
export function speech(seconds: number, seed: number, rate: number, pauseS = 0.9): Int16Array<ArrayBuffer> {
  const samples = new Int16Array(seconds * rate);
  let state = seed;
  const random = () => ((state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296), state / 4_294_967_296);
  for (let at = 0; at < samples.length;) {
    const [word, pause] = [(0.08 + random() * 0.4) * rate, (0.05 + random() ** 3 * pauseS) * rate];
    for (let end = Math.min(samples.length, at + word); at < end; at++) samples[at] = (random() - 0.5) * 12_000;
    at = Math.floor(at + pause);
  }
  return samples;
}

// The demo station’s own music for its breaks: a slow figure on soft tones, made here note by note.

const RATE = 24_000;
const BAR_S = 2.4;
/** Semitones above A3 (220 Hz), four notes to a bar. */
const BARS = [
  [0, 7, 12, 16],
  [-4, 3, 8, 12],
  [-7, 0, 5, 9],
  [-2, 5, 10, 14],
] as const;
const ROUNDS = 3;
/** A note rings on into the next ones. */
const RINGS_S = 2.2;

/** A WAV file (EBU Tech 3285): one channel of 16 bits. */
export function eveningTune(): Buffer {
  const notes = Array.from({ length: ROUNDS }, () => BARS.flat()).flat();
  const step = BAR_S / 4;
  const samples = new Float32Array(Math.ceil((notes.length * step + RINGS_S) * RATE));
  notes.forEach((semitones, at) => {
    const from = Math.round(at * step * RATE);
    const turn = (2 * Math.PI * 220 * 2 ** (semitones / 12)) / RATE;
    for (let sample = 0; sample < RINGS_S * RATE; sample++) {
      const seconds = sample / RATE;
      const loudness = Math.min(1, seconds / 0.02) * Math.exp(-2.2 * seconds);
      samples[from + sample]! += 0.12 * loudness * (Math.sin(turn * sample) + 0.3 * Math.sin(2 * turn * sample));
    }
  });
  const wav = Buffer.alloc(44 + 2 * samples.length);
  wav.write('RIFF', 0, 'latin1');
  wav.writeUInt32LE(wav.length - 8, 4);
  wav.write('WAVEfmt ', 8, 'latin1');
  wav.writeUInt32LE(16, 16);
  wav.writeUInt16LE(1, 20);
  wav.writeUInt16LE(1, 22);
  wav.writeUInt32LE(RATE, 24);
  wav.writeUInt32LE(2 * RATE, 28);
  wav.writeUInt16LE(2, 32);
  wav.writeUInt16LE(16, 34);
  wav.write('data', 36, 'latin1');
  wav.writeUInt32LE(2 * samples.length, 40);
  samples.forEach((value, at) => wav.writeInt16LE(Math.round(32_767 * Math.max(-1, Math.min(1, value))), 44 + 2 * at));
  return wav;
}

// How loud the programme is to its viewers, in a figure and in a word.
import { loudnessVerdict, type LoudnessVerdict } from '@lantern/core';
import { useStage } from './stage-store';

const WORDS: Record<LoudnessVerdict, string> = {
  silent: 'No sound',
  'too quiet': 'Too quiet for viewers',
  good: 'Good',
  'too loud': 'Too loud: turn something down',
  clips: 'Distorts: turn something down',
};

const said = (lufs: number): string => lufs.toFixed(1).replace('-', '−');

export function ProgrammeLoudness() {
  const loudness = useStage((state) => state.loudness);
  const targetLufs = useStage((state) => state.targetLufs);
  if (!loudness) return null;
  const verdict = loudnessVerdict(loudness, targetLufs);
  if (verdict === 'silent') return <span className="soft">{WORDS.silent}</span>;
  const whole = loudness.integrated > -70 ? `${said(loudness.integrated)} LUFS over all so far` : '';
  return (
    <span title={whole}>
      <span className="soft">{said(loudness.shortTerm)} LUFS ·</span> {WORDS[verdict]}
    </span>
  );
}

// All that sounds on the stage, a strip for each.
import { DUCKED_DB, TARGETS_LUFS, type GuestSeat, type StripName, type StripSetting } from '@lantern/core';
import { Form } from 'react-bootstrap';
import { useShallow } from 'zustand/react/shallow';
import { useStage } from './stage-store';
import { StripFields } from './StripFields';

interface Props {
  onStrip: (strip: StripName, change: Partial<StripSetting>) => void;
  onLevelled: (levelled: boolean, targetLufs: number) => void;
}

const TARGET_WORDS: Record<(typeof TARGETS_LUFS)[number], string> = {
  [-14]: 'loud',
  [-16]: 'as streams are',
  [-18]: 'quiet',
  [-23]: 'as broadcast is',
};

const NAMES: Record<Exclude<StripName, 'line' | GuestSeat>, string> = { microphone: 'my microphone', share: 'the share', clip: 'clips' };

export function Mixer({ onStrip, onLevelled }: Props) {
  const { strips, levelled, targetLufs, shares, hasClips } = useStage(
    useShallow(({ strips, levelled, targetLufs, share, clips }) => ({
      strips,
      levelled,
      targetLufs,
      shares: share.on && share.withSound,
      hasClips: clips.length > 0,
    })),
  );
  const there = (['microphone', ...(shares ? (['share'] as const) : []), ...(hasClips ? (['clip'] as const) : [])] as const).map((strip) => strip);
  const byHand = there.filter((strip) => !strips[strip].on || strips[strip].held || strips[strip].gainDb !== 0);
  return (
    <details className="mixer small-words">
      <summary>Mixer{byHand.length > 0 && <span className="soft">: {byHand.map((strip) => NAMES[strip]).join(' and ')} set by hand</span>}</summary>
      {there.map((strip) => (
        <div key={strip} className="mixer-strip">
          <b>{NAMES[strip][0]!.toUpperCase() + NAMES[strip].slice(1)}</b>
          <StripFields strip={strip} name={NAMES[strip]} onChange={(change) => onStrip(strip, change)} />
        </div>
      ))}
      <Form.Check
        id="levelled"
        checked={levelled}
        onChange={({ target }) => onLevelled(target.checked, targetLufs)}
        label="Bring the programme slowly to its loudness"
      />
      <Form.Select
        size="sm"
        className="w-auto mb-2"
        aria-label="How loud the programme is to be"
        value={targetLufs}
        onChange={({ target }) => onLevelled(levelled, Number(target.value))}
      >
        {TARGETS_LUFS.map((lufs) => (
          <option key={lufs} value={lufs}>
            −{-lufs} LUFS: {TARGET_WORDS[lufs]}
          </option>
        ))}
      </Form.Select>
      {hasClips && <p className="soft mb-0">Clips are {-DUCKED_DB} dB quieter while you speak.</p>}
    </details>
  );
}

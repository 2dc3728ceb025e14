// All that sounds on the stage, a strip for each.
import { DUCKED_DB, type StripName, type StripSetting } from '@lantern/core';
import { Form } from 'react-bootstrap';
import { useShallow } from 'zustand/react/shallow';
import { useStage } from './stage-store';
import { StripFields } from './StripFields';

interface Props {
  onStrip: (strip: StripName, change: Partial<StripSetting>) => void;
  onLevelled: (levelled: boolean) => void;
}

const NAMES: Record<Exclude<StripName, 'line'>, string> = { microphone: 'my microphone', share: 'the share', clip: 'clips' };

export function Mixer({ onStrip, onLevelled }: Props) {
  const { strips, levelled, shares, hasClips } = useStage(
    useShallow(({ strips, levelled, share, clips }) => ({ strips, levelled, shares: share.on && share.withSound, hasClips: clips.length > 0 })),
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
        onChange={({ target }) => onLevelled(target.checked)}
        label="Bring the programme slowly to the loudness of streams, −16 LUFS"
      />
      {hasClips && <p className="soft mb-0">Clips are {-DUCKED_DB} dB quieter while you speak.</p>}
    </details>
  );
}

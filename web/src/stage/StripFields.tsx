// One strip of the mixer: its level, how loud it is, who hears it and when.
import { goesOut, isGuestSeat, LEAST_GAIN_DB, meterShare, MOST_GAIN_DB, type StripName, type SoundVerdict, type StripSetting } from '@lantern/core';
import { Form } from 'react-bootstrap';
import { useShallow } from 'zustand/react/shallow';
import { Notice } from '../look/Notice';
import { heardGuests, sceneIn, useStage } from './stage-store';

interface Props {
  strip: StripName;
  /** Whose sound it is. */
  name: string;
  onChange: (change: Partial<StripSetting>) => void;
}

const TROUBLE_WORDS = {
  'too loud': 'Too loud: turn it down where it comes from.',
  'one-sided': 'One side is silent: look at the plug or cable that it comes from.',
  humming: 'It hums: keep its cable away from mains, or use another plug.',
} satisfies Partial<Record<SoundVerdict, string>>;

const said = (gainDb: number): string =>
  gainDb <= LEAST_GAIN_DB ? 'silent' : gainDb === 0 ? 'as it comes' : `${gainDb > 0 ? '+' : '−'}${Math.abs(gainDb)} dB`;

export function StripFields({ strip, name, onChange }: Props) {
  const { on, held, gainDb, here } = useStage(useShallow(({ strips }) => strips[strip]));
  const heard = useStage(({ scenes, programme, clip, guests }) =>
    goesOut(strip, { on, held }, sceneIn(scenes, programme), { soundAlone: clip?.kind === 'sound', broughtIn: heardGuests(guests) }),
  );
  const level = useStage(({ levels }) => levels[strip]);
  const verdict = useStage(({ levels }) => levels.verdicts[strip]);
  const field = `strip-${strip.replace(' ', '-')}`;
  return (
    <div className="sound-strip small-words" role="group" aria-label={`Sound of ${name}`}>
      <div className="meter" role="meter" aria-label={`Level of ${name}`} aria-valuemin={-60} aria-valuemax={0} aria-valuenow={Math.round(level.rmsDb)}>
        <div style={{ transform: `scaleX(${meterShare(level.rmsDb)})` }} />
      </div>
      {verdict in TROUBLE_WORDS && <Notice kind="caution">{TROUBLE_WORDS[verdict as keyof typeof TROUBLE_WORDS]}</Notice>}
      <div className="strip-gain">
        <Form.Range
          aria-label={`How loud: ${name}`}
          aria-valuetext={said(gainDb)}
          min={LEAST_GAIN_DB}
          max={MOST_GAIN_DB}
          step={1}
          value={gainDb}
          onChange={({ target }) => onChange({ gainDb: Number(target.value) })}
          onDoubleClick={() => onChange({ gainDb: 0 })}
        />
        <span className="soft text-nowrap">{said(gainDb)}</span>
      </div>
      {!isGuestSeat(strip) && (
        <Form.Check
          id={`${field}-on`}
          checked={on}
          onChange={({ target }) => onChange({ on: target.checked })}
          label={heard || !on ? 'Heard by viewers' : 'Heard by viewers, not on this scene'}
        />
      )}
      <Form.Check
        id={`${field}-held`}
        checked={held}
        disabled={!on}
        onChange={({ target }) => onChange({ held: target.checked })}
        label="Held open on every scene"
      />
      <Form.Check id={`${field}-here`} checked={here} onChange={({ target }) => onChange({ here: target.checked })} label="Heard by me, here" />
    </div>
  );
}

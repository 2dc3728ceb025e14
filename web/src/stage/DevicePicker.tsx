import { meterShare, sayCamera, type SoundVerdict } from '@lantern/core';
import { Button, Form } from 'react-bootstrap';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { OwnView, OwnViewChoice, useOwnView } from './OwnView';
import { DRAWN } from './stage-engine';
import { useStage, type Device } from './stage-store';
import { useShallow } from 'zustand/react/shallow';

const VERDICT_WORDS: Record<SoundVerdict, string> = {
  silent: 'Silent',
  good: 'Good',
  'too loud': 'Too loud: move back, or turn it down',
  'one-sided': 'One side is silent: look at the plug',
  humming: 'It hums: keep its cable away from mains',
};

interface Props {
  onChoose: (cameraId: string, microphoneId: string) => void;
  onSwitch: () => void;
}

/** The host's own camera and microphone, with the level of what the microphone hears. */
export function DevicePicker({ onChoose, onSwitch }: Props) {
  const { devices, cameras, microphones, cameraId, microphoneId, microphoneOn } = useStage(
    useShallow(({ devices, cameras, microphones, cameraId, microphoneId, strips }) => ({
      ...{ devices, cameras, microphones, cameraId, microphoneId, microphoneOn: strips.microphone.on },
    })),
  );
  const ownView = useOwnView();
  if (devices.state === 'refused') {
    return (
      <>
        <Notice kind="refusal">{devices.words}</Notice>
        <p className="small-words">Without them the show can still go on air with the holding card.</p>
        <div className="button-row">
          <Button variant="outline-primary" onClick={() => onChoose(cameraId, microphoneId)}>
            Try again
          </Button>
          <Button variant="quiet" onClick={() => onChoose(DRAWN, DRAWN)}>
            Try the stage with a drawn host
          </Button>
        </div>
      </>
    );
  }
  return (
    <>
      {devices.words && <Notice kind="caution">{devices.words}</Notice>}
      <CameraWords />
      <details className="devices small-words">
        <summary>
          {nameOf(cameras, cameraId, 'No camera', 'A drawn host')}, {nameOf(microphones, microphoneId, 'no microphone', 'a made-up murmur')}
        </summary>
        <Field id="camera" label="Camera">
          <Form.Select size="sm" value={cameraId} onChange={(event) => onChoose(event.target.value, microphoneId)}>
            <option value={DRAWN}>Drawn: the host by lamplight</option>
            {cameras.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
        </Field>
        <Field id="microphone" label="Microphone" className="mb-2">
          <Form.Select size="sm" value={microphoneId} onChange={(event) => onChoose(cameraId, event.target.value)}>
            <option value={DRAWN}>Made up: a murmur</option>
            {microphones.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
        </Field>
        <Field id="own-view" label="My own picture, for me alone" className="mb-2">
          <OwnViewChoice {...ownView} />
        </Field>
      </details>
      <OwnView view={ownView.view} />
      <div className="microphone-row">
        <Meter />
        <Button variant="outline-primary" size="sm" aria-pressed={microphoneOn} onClick={onSwitch}>
          {microphoneOn ? 'Mute me' : 'Unmute me'} <kbd className="key ms-1">M</kbd>
        </Button>
      </div>
    </>
  );
}

const nameOf = (devices: readonly Device[], id: string, none: string, drawn: string): string =>
  id === DRAWN ? drawn : (devices.find((device) => device.id === id)?.name ?? none);

function Meter() {
  const { level, verdict } = useStage(useShallow(({ levels }) => ({ level: levels.microphone, verdict: levels.verdicts.microphone })));
  return (
    <div className="d-flex gap-2 align-items-center small-words">
      <div
        className="meter flex-grow-1"
        role="meter"
        aria-label="Microphone level"
        aria-valuemin={-60}
        aria-valuemax={0}
        aria-valuenow={Math.round(level.rmsDb)}
      >
        <div style={{ transform: `scaleX(${meterShare(level.rmsDb)})` }} />
      </div>
      <span style={{ minWidth: '3.2rem' }}>{VERDICT_WORDS[verdict]}</span>
    </div>
  );
}

/** Told on air too, where it is not as it should be. */
function CameraWords() {
  const camera = useStage((state) => state.camera);
  return camera === null || camera === 'good' ? null : <Notice kind="caution">{sayCamera(camera)}</Notice>;
}

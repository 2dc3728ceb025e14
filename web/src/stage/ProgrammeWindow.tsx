// The programme in a window of its own, clean and full, to be shown in a meeting outside: its people see and hear the show without hearing
// themselves back.
import type { AirView } from '@lantern/contract';
import { instant, sayTime } from '@lantern/core';
import { useEffect, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { Button } from 'react-bootstrap';
import { usePopUp } from './pop-up';

interface Props {
  title: string;
  zone: string;
  air: AirView | null;
  /** Picture and sound as they are made here, without the sound of the outside line. */
  stream: () => MediaStream | null;
}

/** Drawn by hand: it is another document, in which none of our styles stand. */
const FULL = { position: 'fixed', inset: 0, width: '100%', height: '100%', margin: 0, background: '#0b1f25', color: '#fbf8f0' } as const;
const WORDS = {
  ...FULL,
  display: 'flex',
  flexDirection: 'column',
  alignItems: 'center',
  justifyContent: 'center',
  font: '4vw sans-serif',
  gap: '2vw',
} as const;

export function ProgrammeWindow({ title, zone, air, stream }: Props) {
  const { popUp, open, refused } = usePopUp(`${title}: programme`, 'popup,width=960,height=540');
  return (
    <>
      <Button variant="quiet" size="sm" onClick={open}>
        Programme window
      </Button>
      {refused && <p className="small-words">{refused}</p>}
      {popUp && createPortal(<Picture title={title} zone={zone} air={air} make={stream} />, popUp.document.body)}
    </>
  );
}

function Picture({ title, zone, air, make }: { title: string; zone: string; air: AirView | null; make: () => MediaStream | null }) {
  const [stream] = useState(make);
  const video = useRef<HTMLVideoElement>(null);
  const [asleep, setAsleep] = useState(false);
  const onAir = air?.showState === 'onAir';
  // What is made here is what goes out only while the stage is what viewers see.
  const away = onAir && (air.source !== 'stage' || !air.holdsIt);
  const line = air?.lines.find(({ id }) => air.source === `line:${id}`);
  useEffect(() => {
    const element = video.current!;
    element.srcObject = stream;
    element.play().catch(() => setAsleep(true));
  }, [stream]);
  useEffect(() => {
    video.current!.muted = asleep || away;
  }, [asleep, away]);
  const wake = () => {
    setAsleep(false);
    video.current!.muted = false;
    video.current!.play().catch(() => setAsleep(true));
  };
  return (
    <>
      <video ref={video} autoPlay playsInline aria-label="Programme" style={{ ...FULL, objectFit: 'contain' }} />
      {away && (
        <div style={WORDS}>
          <strong>{title}</strong>
          <span>
            {line ? `${line.name} is in the programme` : air.backAt !== null ? `A break. Back at ${sayTime(instant(air.backAt), zone)}` : 'A short break'}
          </span>
        </div>
      )}
      {asleep && !away && (
        <button type="button" onClick={wake} style={{ position: 'fixed', left: '2vw', bottom: '2vw', font: '16px sans-serif', padding: '0.6em 1em' }}>
          Switch the sound on
        </button>
      )}
    </>
  );
}

// The notes of the cue that is on, large, in a window that can be set near the camera.
import type { Cue } from '@lantern/core';
import { createPortal } from 'react-dom';
import { Button } from 'react-bootstrap';
import { usePopUp } from './pop-up';

/** Drawn by hand: it is another document, in which none of our styles stand. Read from arm's length. */
const PAGE = {
  margin: 0,
  minHeight: '100vh',
  padding: '4vw',
  background: '#0c2227',
  color: '#fbf8f0',
  font: '400 clamp(20px, 5.2vw, 54px)/1.35 sans-serif',
} as const;

/** `before`: what earlier dates have taught about this cue. */
export function CueNotes({ cue, next, before }: { cue: Cue | null; next: Cue | null; before: readonly string[] }) {
  const { popUp, open, refused } = usePopUp('Notes', 'popup,width=560,height=360');
  return (
    <>
      <Button variant="quiet" size="sm" onClick={open}>
        Notes window
      </Button>
      {refused && <span>{refused}</span>}
      {popUp &&
        createPortal(
          <div style={PAGE}>
            <div style={{ fontWeight: 700 }}>{cue?.name.trim() || 'Nothing is on yet'}</div>
            {cue?.who && <div style={{ opacity: 0.8 }}>{cue.who}</div>}
            <div style={{ whiteSpace: 'pre-wrap' }}>{cue?.notes}</div>
            {before.map((words) => (
              <div key={words} style={{ opacity: 0.85, fontStyle: 'italic' }}>
                Last time: {words}
              </div>
            ))}
            {next && <div style={{ opacity: 0.7, marginTop: '0.8em', fontSize: '0.7em' }}>Then {next.name.trim() || 'a cue without a name'}</div>}
          </div>,
          popUp.document.body,
        )}
    </>
  );
}

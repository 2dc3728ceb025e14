// Taking the stage, or asking for it: nobody loses it to a stage that was merely opened.
import type { StageHolder } from '@lantern/contract';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';

/** `holder`: who has it; null or one who has sent from nowhere: nobody is asked about. */
export function TakeStage({ holder, onTake, onAsk }: { holder: StageHolder | null; onTake: () => void; onAsk: () => void }) {
  const [asks, setAsks] = useState(false);
  return (
    <>
      <Button variant="quiet" size="sm" onClick={() => (holder?.hasSent ? setAsks(true) : onTake())}>
        Take the stage
      </Button>
      {asks && holder && (
        <Modal show onHide={() => setAsks(false)} aria-labelledby="take-title" data-bs-theme="dusk">
          <Modal.Header closeButton>
            <h2 id="take-title" className="mb-0">
              Take the stage from {holder.name}?
            </h2>
          </Modal.Header>
          <Modal.Body>
            <p className="mb-0">
              {holder.connected
                ? `${holder.name} sends at this moment. Ask, and it is handed over to you without a gap; where nobody answers, send from here at once: your camera and your microphone go out instead, and ${holder.name} is told.`
                : `${holder.name}’s line is broken; the same browser comes back by itself when it can. If you take the stage, your camera and your microphone go out instead.`}
            </p>
          </Modal.Body>
          <Modal.Footer>
            <Button variant="outline-primary" onClick={() => setAsks(false)} autoFocus>
              Leave it
            </Button>
            <Button
              variant={holder.connected ? 'outline-primary' : undefined}
              onClick={() => {
                setAsks(false);
                onTake();
              }}
            >
              Send from here
            </Button>
            {holder.connected && (
              <Button
                onClick={() => {
                  setAsks(false);
                  onAsk();
                }}
              >
                Ask for it
              </Button>
            )}
          </Modal.Footer>
        </Modal>
      )}
    </>
  );
}

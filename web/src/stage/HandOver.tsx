// Handing the stage over: asked for or offered, answered by the other side, and what is to be seen while it happens.
import type { HandingView, OtherStage } from '@lantern/contract';
import { useState } from 'react';
import { Button, Dropdown } from 'react-bootstrap';
import { Notice } from '../look/Notice';

interface HandOverProps {
  handing: HandingView;
  /** Something is shared from here, and ends with it. */
  shares: boolean;
  onAgree: () => void;
  onDecline: () => void;
}

/** To both sides: what is asked, who has to answer, and that nobody sees anything before it is ready. */
export function HandOverNotice({ handing, shares, onAgree, onDecline }: HandOverProps) {
  const { state, part, from, to } = handing;
  const takeBack = (
    <Button variant="quiet" size="sm" onClick={onDecline}>
      Take it back
    </Button>
  );
  if (part === 'looks on') return state === 'coming' ? <Notice kind="caution">{`${from} hands the stage over to ${to}.`}</Notice> : null;
  if (state === 'coming') {
    return (
      <Notice kind="caution">
        {part === 'takes'
          ? `Your picture is made ready. ${from} stays on air until it is, and then you are.`
          : `${to}’s picture is made ready. You stay on air until it is.`}{' '}
        <Button variant="quiet" size="sm" onClick={onDecline}>
          {part === 'takes' ? 'Do not take it' : 'Keep the stage'}
        </Button>
      </Notice>
    );
  }
  if (state === 'asked' && part === 'takes')
    return (
      <Notice kind="caution">
        {`You have asked ${from} for the stage; they have a minute to answer.`} {takeBack}
      </Notice>
    );
  if (state === 'offered' && part === 'gives')
    return (
      <Notice kind="caution">
        {`You have offered the stage to ${to}; they have a minute to answer.`} {takeBack}
      </Notice>
    );
  return (
    <Notice kind="caution">
      <b>{state === 'asked' ? `${to} asks for the stage.` : `${from} hands you the stage.`}</b>{' '}
      {part === 'gives'
        ? `You stay on air until ${to}’s picture is there; then your camera and your microphone go out no more.${shares ? ' What you share ends with it.' : ''}`
        : 'Once your picture is there, your camera and your microphone go out. Viewers see no gap.'}
      <span className="button-row mt-2">
        <Button size="sm" onClick={onAgree}>
          {part === 'gives' ? 'Hand it over' : 'Take it over'}
        </Button>
        <Button size="sm" variant="outline-primary" onClick={onDecline}>
          {part === 'gives' ? 'Keep the stage' : 'Not now'}
        </Button>
      </span>
    </Notice>
  );
}

/** Offers the stage to one of those who have it open. */
export function OfferStage({ couldTake, onOffer }: { couldTake: readonly OtherStage[]; onOffer: (id: string) => void }) {
  const [open, setOpen] = useState(false);
  const [only] = couldTake;
  if (!only) return null;
  if (couldTake.length === 1)
    return (
      <Button variant="quiet" size="sm" onClick={() => onOffer(only.id)}>
        {`Hand the stage to ${only.name}`}
      </Button>
    );
  return (
    <Dropdown show={open} onToggle={setOpen}>
      <Dropdown.Toggle variant="quiet" size="sm">
        Hand the stage to…
      </Dropdown.Toggle>
      <Dropdown.Menu>
        {couldTake.map(({ id, name }) => (
          <Dropdown.Item as="button" type="button" key={id} onClick={() => onOffer(id)}>
            {name}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

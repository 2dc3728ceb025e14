// What a guest is asked, and can take back at any time: whether their own sound may be kept as a file of its own.
import type { DoorView as Door } from '@lantern/contract';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';
import type { OwnSoundState } from './own-sound';

export const sayOwnSound = (pass: string, agrees: boolean) => server.post<Door>('/api/door/own-sound', { pass, agrees });

/** What waits to be sent is spoken of from so much on: some ten seconds. */
const WORTH_SAYING_BYTES = 150_000;

interface Props {
  door: Door;
  pass: string;
  keep: (door: Door) => void;
  /** How taking it stands; missing: nothing is taken here. */
  state?: OwnSoundState;
}

/** In the green room, and at the door of an evening that is over. */
export function OwnSoundHere({ door, pass, keep, state }: Props) {
  const { wanted, said, kept } = door.ownSound;
  const [trouble, setTrouble] = useState('');
  const say = (agrees: boolean) => {
    setTrouble('');
    sayOwnSound(pass, agrees).then(keep, (error: unknown) => setTrouble(wordsOf(error)));
  };
  if (door.isOver ? !kept : !wanted) return null;
  return (
    <div className="small-words mb-2">
      {said === 'agreed' || door.isOver ? (
        <>
          {door.isOver ? `${door.stationName} keeps your own sound of that evening. ` : wordsOfState(state)}
          <AskedButton
            label={door.isOver ? 'Have it removed' : 'Keep it no more'}
            question="What was kept of it goes for good. Remove it?"
            yes="Remove it"
            onYes={() => say(false)}
          />
        </>
      ) : (
        <>
          Your own sound is not kept.{' '}
          <Button variant="quiet" size="sm" onClick={() => say(true)}>
            Let it be kept
          </Button>
        </>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </div>
  );
}

function wordsOfState(state: OwnSoundState | undefined): string {
  if (state?.trouble === 'not by this browser') return 'This browser cannot take your own sound; everything else works. ';
  if (state?.trouble === 'not taken') return 'Your own sound is not taken any more by the server. ';
  if (state?.trouble === 'no room') return 'The server has no room for your own sound at this moment. It waits here: please leave this page open. ';
  if (state && state.waitingBytes > WORTH_SAYING_BYTES) return 'Your own sound is still being sent: please leave this page open. ';
  if (state?.takes) return 'Your own sound is being kept as well. ';
  return 'Your own sound is kept as well while viewers hear you. ';
}

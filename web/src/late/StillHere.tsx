// What this browser still has of a recording, for whoever sits before it.
import { Notice } from '../look/Notice';
import { useLate } from './late-pieces';
import type { LateState } from './late-store';

/** The last pieces on a line that is well are on their way: nobody is told of them. */
const WORTH_TELLING_BYTES = 400_000;
const MB = 1_000_000;

const TROUBLE: Record<Exclude<LateState['trouble'], ''>, string> = {
  'the browser keeps no more': 'This browser has no room to keep what does not reach the server in time: that will be missing from the recording.',
  'nobody may send it': 'This browser still has a part of a recording. Sign in as somebody who may go on air, and it is sent.',
  'the server has no room':
    'The disk of the server is full: a part of the recording waits in this browser. Free some room there, and leave a window open here; it is tried again by itself.',
  'a part does not join on': 'A part of a recording that was kept in this browser could not be joined to the rest: it is missing there.',
};

export function StillHere() {
  const { waitingBytes, trouble } = useLate();
  return (
    <>
      {trouble && <Notice kind="caution">{TROUBLE[trouble]}</Notice>}
      {trouble !== 'nobody may send it' && waitingBytes >= WORTH_TELLING_BYTES && (
        <Notice kind="caution" live={false}>
          A part of the recording did not reach the server in time and is kept in this browser: {(waitingBytes / MB).toFixed(1)} MB. It is sent beside
          everything else. Leave a window open here until it is there.
        </Notice>
      )}
    </>
  );
}

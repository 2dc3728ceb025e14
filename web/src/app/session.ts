// Whether somebody is signed in, as the pages go by it: when the session runs out in the middle of the work, the
// password is asked for on the spot, and nothing that was typed is lost.
import { create } from 'zustand';

interface SessionState {
  /** Whether the password is being asked for at this moment. */
  asks: boolean;
}

export const useSession = create<SessionState>(() => ({ asks: false }));

let known = false;
let answer: ((yes: boolean) => void) | null = null;
let waiting: Promise<boolean> | null = null;

/** From now on a refusal means that the session has run out, and not that nobody was signed in. */
export function noteSignedIn(yes: boolean): void {
  known = yes;
}

/** Asks for the password in place, once for all who wait. False: nobody was signed in here, or they would rather not. */
export function signedInAgain(): Promise<boolean> {
  if (!known) return Promise.resolve(false);
  waiting ??= new Promise<boolean>((done) => {
    answer = done;
    useSession.setState({ asks: true });
  });
  return waiting;
}

/** Ends the asking. */
export function settleSignIn(yes: boolean): void {
  if (!yes) known = false;
  useSession.setState({ asks: false });
  answer?.(yes);
  answer = waiting = null;
}

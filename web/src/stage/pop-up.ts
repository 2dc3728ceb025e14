// A window of the stage beside the stage: drawn by it, and gone with it.
import { useEffect, useState } from 'react';

interface PopUp {
  /** Null: it is not open. */
  popUp: Window | null;
  /** Opens it, or brings it to the front. `opened` is called with a new one only. */
  open: () => void;
  /** Why it could not be opened; empty: it could. */
  refused: string;
}

export function usePopUp(title: string, features: string): PopUp {
  const [popUp, setPopUp] = useState<Window | null>(null);
  const [refused, setRefused] = useState('');
  useEffect(() => {
    if (!popUp) return;
    const closed = () => setPopUp(null);
    // A stage that goes takes its window along: what it showed is made no more.
    const close = () => popUp.close();
    popUp.addEventListener('pagehide', closed);
    window.addEventListener('pagehide', close);
    return () => {
      popUp.removeEventListener('pagehide', closed);
      window.removeEventListener('pagehide', close);
      popUp.close();
    };
  }, [popUp]);
  const open = () => {
    if (popUp && !popUp.closed) return popUp.focus();
    const made = window.open('', '', features);
    setRefused(made ? '' : 'The browser did not open the window. Allow windows for this address, then press again.');
    if (!made) return;
    made.document.title = title;
    made.document.documentElement.lang = 'en';
    made.document.body.style.margin = '0';
    setPopUp(made);
  };
  return { popUp, open, refused };
}

// Secrets on the page: asked for one at a time, shown for a short while, gone when the page is left.
import { KEY_SHOWN_MS, type RevealRequest } from '@lantern/contract';
import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { onSharingHere } from '../app/sharing';
import { server, ServerError, wordsOf } from '../app/server';
import { PasswordPrompt } from '../people/PasswordPrompt';

type Purpose = RevealRequest['purpose'];

/**
 * Asks the server for a secret at `path`, giving the password first where that is wanted. `prompt` has to
 * stand on the page. The reply is handed to `use` and kept nowhere else.
 */
export function useSecretRequest<T>(path: string): {
  ask: (purpose: Purpose, use: (secret: T) => void) => void;
  prompt: ReactNode;
  refused: string;
  busy: boolean;
} {
  const [refused, setRefused] = useState('');
  const [busy, setBusy] = useState(false);
  const [waiting, setWaiting] = useState<{ purpose: Purpose; use: (secret: T) => void } | null>(null);
  /** What was pressed: it takes no focus while it is busy, and is given it back after. */
  const pressed = useRef<Element | null>(null);
  const giveBack = () =>
    void setTimeout(() => {
      if (document.activeElement === document.body && pressed.current instanceof HTMLElement) pressed.current.focus();
    });
  const ask = (purpose: Purpose, use: (secret: T) => void) => {
    if (document.activeElement !== document.body) pressed.current = document.activeElement;
    setRefused('');
    setBusy(true);
    server
      .post<T>(path, { purpose })
      .then(use)
      .catch((error: unknown) => {
        if (error instanceof ServerError && error.needs === 'password') setWaiting({ purpose, use });
        else setRefused(wordsOf(error));
      })
      .finally(() => {
        setBusy(false);
        giveBack();
      });
  };
  const prompt = waiting && (
    <PasswordPrompt
      onClose={() => {
        setWaiting(null);
        giveBack();
      }}
      onGiven={() => {
        const opener = pressed.current;
        setWaiting(null);
        ask(waiting.purpose, waiting.use);
        // The prompt itself has the focus at this moment, and goes.
        pressed.current = opener;
      }}
    />
  );
  return { ask, prompt, refused, busy };
}

/** A value that forgets itself after KEY_SHOWN_MS, and at once when the page is hidden or left, or a screen is shared from this browser. */
export function useShortLived<T>(): { value: T | null; secondsLeft: number; show: (value: T) => void; hide: () => void } {
  const [shown, setShown] = useState<{ value: T; until: number } | null>(null);
  const [now, setNow] = useState(0);
  const timer = useRef(0);
  const hide = useCallback(() => {
    clearInterval(timer.current);
    setShown(null);
  }, []);
  const show = useCallback(
    (value: T) => {
      clearInterval(timer.current);
      const until = Date.now() + KEY_SHOWN_MS;
      setNow(Date.now());
      setShown({ value, until });
      timer.current = window.setInterval(() => {
        if (Date.now() >= until) hide();
        else setNow(Date.now());
      }, 250);
    },
    [hide],
  );
  useEffect(() => {
    const onHidden = () => document.hidden && hide();
    document.addEventListener('visibilitychange', onHidden);
    const heard = onSharingHere(hide);
    return () => {
      heard();
      document.removeEventListener('visibilitychange', onHidden);
      clearInterval(timer.current);
    };
  }, [hide]);
  return { value: shown?.value ?? null, secondsLeft: shown ? Math.max(0, Math.ceil((shown.until - now) / 1000)) : 0, show, hide };
}

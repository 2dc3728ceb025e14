// A field that is typed in many ways and shows one: what was meant is taken in when one leaves it or pauses, and what cannot be
// understood stays as it was typed, with a word about it.
import { useEffect, useRef, useState, type ChangeEvent, type KeyboardEvent } from 'react';

/** Long enough to type on, short enough that nothing is lost. */
const PAUSE_MS = 900;

interface Typed {
  /** As it is kept. */
  value: string;
  onChange: (value: string) => void;
  /** What was meant; null where it cannot be told. */
  read: (typed: string) => string | null;
  show: (value: string) => string;
}

export function useTyped({ value, onChange, read, show }: Typed) {
  /** Null: nothing is being typed, and the kept value is shown. */
  const [text, setText] = useState<string | null>(null);
  const [unread, setUnread] = useState('');
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const waiting = useRef<string | null>(null);
  const latest = useRef({ value, onChange, read });
  useEffect(() => {
    latest.current = { value, onChange, read };
  });
  const take = (typed: string): string | null => {
    if (timer.current) clearTimeout(timer.current);
    waiting.current = null;
    const { value: kept, onChange: put, read: meant } = latest.current;
    const found = typed.trim() === '' ? '' : meant(typed);
    if (found !== null && found !== kept) put(found);
    return found;
  };
  // Whoever leaves the page in the middle, or closes it, has typed it all the same.
  useEffect(() => {
    const takeLast = () => {
      if (waiting.current !== null) take(waiting.current);
    };
    window.addEventListener('pagehide', takeLast);
    return () => {
      window.removeEventListener('pagehide', takeLast);
      takeLast();
    };
  }, []);
  const leave = () => {
    if (text === null) return;
    const found = take(text);
    setUnread(found === null ? text : '');
    if (found !== null) setText(null);
  };
  return {
    /** What was typed and cannot be understood; empty otherwise. */
    unread,
    /** For the input that is typed in. */
    input: {
      autoComplete: 'off',
      value: text ?? show(value),
      onChange: ({ target }: ChangeEvent<HTMLInputElement>) => {
        const typed = target.value;
        setText(typed);
        setUnread('');
        if (timer.current) clearTimeout(timer.current);
        waiting.current = typed;
        timer.current = setTimeout(() => take(typed), PAUSE_MS);
      },
      onBlur: leave,
      onKeyDown: ({ key }: KeyboardEvent) => {
        if (key === 'Enter') leave();
      },
    },
    /** Another way than typing has set it. */
    onSet: (chosen: string) => {
      if (timer.current) clearTimeout(timer.current);
      waiting.current = null;
      setText(null);
      setUnread('');
      onChange(chosen);
    },
  };
}

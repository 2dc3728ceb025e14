// A quiet button for what cannot be undone at once: the first press asks, on the spot, the second does it.
import { useEffect, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';

interface Props {
  label: string;
  /** What is asked, as "Take Ada Fenn out?". */
  question: string;
  /** What the second press does, as "Take out". */
  yes: string;
  onYes: () => void;
  disabled?: boolean;
  /** For those who listen, where several buttons say the same. */
  name?: string;
}

export function AskedButton({ label, question, yes, onYes, disabled = false, name }: Props) {
  const [asks, setAsks] = useState(false);
  const first = useRef<HTMLButtonElement>(null);
  const wasAsked = useRef(false);
  useEffect(() => {
    // The answer was no: the focus is where it was.
    if (!asks && wasAsked.current) first.current?.focus();
    wasAsked.current = asks;
  }, [asks]);
  if (!asks) {
    return (
      <Button ref={first} variant="quiet" size="sm" disabled={disabled} aria-label={name} onClick={() => setAsks(true)}>
        {label}
      </Button>
    );
  }
  return (
    <span role="group" aria-label={question} className="asked small-words" onKeyDown={({ key }) => key === 'Escape' && setAsks(false)}>
      {question}{' '}
      <Button
        size="sm"
        variant="outline-danger"
        autoFocus
        onClick={() => {
          setAsks(false);
          onYes();
        }}
      >
        {yes}
      </Button>{' '}
      <Button size="sm" variant="quiet" onClick={() => setAsks(false)}>
        No
      </Button>
    </span>
  );
}

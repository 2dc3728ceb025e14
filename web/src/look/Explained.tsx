// A word of ours that says what it means at a touch, on the spot.
import { GLOSSARY, type GlossaryWord } from '@lantern/core';
import { CircleHelp } from 'lucide-react';
import { useId, useState, type ReactNode } from 'react';

/** `up`: there is no room beneath. */
export function Explained({ word, up = false, children }: { word: GlossaryWord; up?: boolean; children?: ReactNode }) {
  const [open, setOpen] = useState(false);
  const id = useId();
  return (
    <span className="explained" onKeyDown={({ key }) => key === 'Escape' && setOpen(false)}>
      {children}
      <button type="button" aria-expanded={open} aria-controls={open ? id : undefined} aria-label={`What is meant by: ${word}`} onClick={() => setOpen(!open)}>
        <CircleHelp size={15} aria-hidden="true" />
      </button>
      {open && (
        <span id={id} role="note" className={`explanation small-words${up ? ' up' : ''}`}>
          {GLOSSARY[word]}
        </span>
      )}
    </span>
  );
}

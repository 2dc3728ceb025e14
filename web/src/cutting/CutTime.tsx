// A moment of a recording, typed.
import { readCutTime, sayCutTime } from '@lantern/core';
import { Form } from 'react-bootstrap';
import { useTyped } from '../look/typed';

export function CutTime({ label, ms, onMs }: { label: string; ms: number; onMs: (ms: number) => void }) {
  const typed = useTyped({
    value: String(ms),
    onChange: (value) => value && onMs(Number(value)),
    read: (text) => {
      const found = readCutTime(text);
      // What is shown is rounded: nobody has typed it.
      return found === null ? null : sayCutTime(found) === sayCutTime(ms) ? String(ms) : String(found);
    },
    show: (value) => sayCutTime(Number(value)),
  });
  return (
    <Form.Control
      size="sm"
      className="cut-time"
      aria-label={label}
      title={typed.unread ? `“${typed.unread}” is no time: write it as 1:02:03.4.` : undefined}
      isInvalid={typed.unread !== ''}
      {...typed.input}
    />
  );
}

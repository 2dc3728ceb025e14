// A date, typed in any common way or chosen on a calendar; shown with its weekday and its month by name.
import { dayNumber, readTypedDate, sayTypedDate, type DateOrder } from '@lantern/core';
import { CalendarDays } from 'lucide-react';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Form } from 'react-bootstrap';
import { Field } from './Field';
import { useTyped } from './typed';

const Calendar = lazy(() => import('./Calendar').then(({ Calendar: component }) => ({ default: component })));

interface Props {
  id: string;
  label: string;
  /** YYYY-MM-DD. */
  value: string;
  onChange: (date: string) => void;
  /** The day it is where the date counts, YYYY-MM-DD. */
  today: string;
  order: DateOrder;
  trouble?: string | undefined;
  className?: string;
}

export function DateField({ id, label, value, onChange, today, order, trouble, className = 'mb-3' }: Props) {
  const [open, setOpen] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  const typed = useTyped({ value, onChange, read: (text) => readTypedDate(text, today, order), show: (date) => sayTypedDate(date, order) });
  useEffect(() => {
    if (!open) return;
    const away = ({ target }: PointerEvent) => {
      if (!box.current?.contains(target as Node)) setOpen(false);
    };
    document.addEventListener('pointerdown', away);
    return () => document.removeEventListener('pointerdown', away);
  }, [open]);
  const close = () => {
    setOpen(false);
    opener.current?.focus();
  };
  const unread =
    typed.unread && `“${typed.unread}” is no date that can be understood. Write it as ${sayTypedDate(today, order)}, or choose it on the calendar.`;
  return (
    <Field id={id} label={label} className={className} trouble={unread || trouble}>
      <div ref={box} className="date-field" onKeyDown={({ key }) => key === 'Escape' && open && close()}>
        <Form.Control isInvalid={!!unread || !!trouble} {...typed.input} />
        <button ref={opener} type="button" className="btn btn-quiet" aria-expanded={open} aria-label={`${label} on a calendar`} onClick={() => setOpen(!open)}>
          <CalendarDays size={18} aria-hidden="true" />
        </button>
        {open && (
          <div role="dialog" aria-label={`${label}: the calendar`} className="date-calendar">
            <Suspense fallback={<p className="soft small-words m-2">Opening…</p>}>
              <Calendar
                date={dayNumber(value) === null ? today : value}
                today={today}
                onChoose={(date) => {
                  typed.onSet(date);
                  close();
                }}
              />
            </Suspense>
          </div>
        )}
      </div>
    </Field>
  );
}

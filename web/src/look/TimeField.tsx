// A time of day, typed in any common way and shown on 24 hours.
import { readTypedTime } from '@lantern/core';
import { Form } from 'react-bootstrap';
import { Field } from './Field';
import { useTyped } from './typed';

interface Props {
  id: string;
  label: string;
  /** HH:MM. */
  value: string;
  onChange: (time: string) => void;
  help?: string;
  trouble?: string | undefined;
  className?: string;
}

export function TimeField({ id, label, value, onChange, help, trouble, className = 'mb-3' }: Props) {
  const typed = useTyped({ value, onChange, read: readTypedTime, show: (time) => time });
  const unread = typed.unread && `“${typed.unread}” is no time that can be understood. Write it as 20:30 or 8:30 pm.`;
  return (
    <Field id={id} label={label} className={className} help={help} trouble={unread || trouble}>
      <Form.Control isInvalid={!!unread || !!trouble} {...typed.input} />
    </Field>
  );
}

// The code of a second factor, asked for only of whoever has one.
import { Form } from 'react-bootstrap';
import { Field } from '../look/Field';

export const CodeField = ({ value, onChange }: { value: string; onChange: (code: string) => void }) => (
  <Field id="code" label="Code" help="The six figures of your app, or one of your spare codes.">
    <Form.Control
      autoFocus
      autoComplete="one-time-code"
      inputMode="text"
      spellCheck={false}
      maxLength={20}
      value={value}
      onChange={({ target }) => onChange(target.value)}
    />
  </Field>
);

// A labelled input with its help and its trouble, tied together for those who listen to the page.
import type { ReactNode } from 'react';
import { Form } from 'react-bootstrap';

interface FieldProps {
  id: string;
  label: string;
  help?: ReactNode;
  trouble?: string | undefined;
  className?: string;
  children: ReactNode;
}

export function Field({ id, label, help, trouble, className = 'mb-3', children }: FieldProps) {
  return (
    <Form.Group controlId={id} className={className}>
      <Form.Label>{label}</Form.Label>
      {children}
      {help && <Form.Text as="div">{help}</Form.Text>}
      {trouble && (
        <Form.Control.Feedback type="invalid" className="d-block" role="alert">
          {trouble}
        </Form.Control.Feedback>
      )}
    </Form.Group>
  );
}

// Limits of a service that we have no rules for, as far as the host knows them.
import type { LimitsTypedIn } from '@lantern/contract';
import { Form } from 'react-bootstrap';
import { useFormContext } from 'react-hook-form';
import { Field } from '../look/Field';

interface Fields {
  limits: LimitsTypedIn;
}

const orNull = (text: unknown) => (text === '' || text === null || text === undefined ? null : Number(text));

/** No limits known: what a new channel starts with. */
export const NO_LIMITS: LimitsTypedIn = { titleMax: null, textMax: null, longestMin: null, maxKbps: null };

export function LimitFields() {
  const { register, formState } = useFormContext<Fields>();
  const errors = formState.errors.limits;
  return (
    <div className="row gx-3">
      <Field id="limit-title" label="Title, characters" className="col-6 mb-3" trouble={errors?.titleMax?.message}>
        <Form.Control type="number" min={10} isInvalid={!!errors?.titleMax} {...register('limits.titleMax', { setValueAs: orNull })} />
      </Field>
      <Field id="limit-text" label="Text, characters" className="col-6 mb-3" trouble={errors?.textMax?.message}>
        <Form.Control type="number" min={10} isInvalid={!!errors?.textMax} {...register('limits.textMax', { setValueAs: orNull })} />
      </Field>
      <Field id="limit-longest" label="Longest show, minutes" className="col-6 mb-3" trouble={errors?.longestMin?.message}>
        <Form.Control type="number" min={1} isInvalid={!!errors?.longestMin} {...register('limits.longestMin', { setValueAs: orNull })} />
      </Field>
      <Field id="limit-kbps" label="Picture, kbit/s at most" className="col-6 mb-3" trouble={errors?.maxKbps?.message}>
        <Form.Control type="number" min={200} isInvalid={!!errors?.maxKbps} {...register('limits.maxKbps', { setValueAs: orNull })} />
      </Field>
    </div>
  );
}

import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { PASSWORD_MIN, SetUpRequest, type Me, type SetUpState } from '@lantern/contract';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useForm, useWatch } from 'react-hook-form';
import { Navigate, useNavigate } from 'react-router';
import { server, ServerError, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { ZoneOptions } from '../look/ZoneOptions';
import { Threshold } from './Threshold';

/** The first page of a new server: the station and its owner. */
export function SetUpView() {
  const setUp = useQuery({ queryKey: ['set-up'], queryFn: () => server.get<SetUpState>('/api/set-up') });
  const [refused, setRefused] = useState('');
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { register, handleSubmit, formState, setError, control } = useForm<SetUpRequest>({
    resolver: classValidatorResolver(SetUpRequest),
    defaultValues: { code: '', zone: Intl.DateTimeFormat().resolvedOptions().timeZone, stationName: '', name: '', email: '', password: '' },
  });
  const zone = useWatch({ control, name: 'zone' });
  const errors = formState.errors;
  if (setUp.data && !setUp.data.needed && !formState.isSubmitting && !formState.isSubmitSuccessful) return <Navigate to="/sign-in" replace />;
  const begin = handleSubmit(async (form) => {
    setRefused('');
    try {
      queries.setQueryData(['me'], await server.post<Me>('/api/set-up', form));
      queries.setQueryData(['set-up'], { needed: false } satisfies SetUpState);
      await navigate('/channels');
    } catch (error) {
      const fields = error instanceof ServerError ? Object.entries(error.fields) : [];
      for (const [field, message] of fields) setError(field as keyof SetUpRequest, { message });
      if (!fields.length) setRefused(wordsOf(error));
    }
  });
  return (
    <Threshold title="A new station" lead="What your station is called, and who owns it.">
      <Form noValidate onSubmit={(event) => void begin(event)}>
        <Field
          id="code"
          label="Code"
          help="It was printed where the server was started: only whoever reads it there can open the station."
          trouble={errors.code?.message}
        >
          <Form.Control autoFocus autoComplete="off" spellCheck={false} isInvalid={!!errors.code} {...register('code')} />
        </Field>
        <Field id="stationName" label="Name of the station" help="The public sees it on the pages of your shows." trouble={errors.stationName?.message}>
          <Form.Control isInvalid={!!errors.stationName} {...register('stationName')} />
        </Field>
        <Field id="name" label="Your name" trouble={errors.name?.message}>
          <Form.Control autoComplete="name" isInvalid={!!errors.name} {...register('name')} />
        </Field>
        <Field id="email" label="Email address" help="You sign in with it." trouble={errors.email?.message}>
          <Form.Control type="email" autoComplete="username" isInvalid={!!errors.email} {...register('email')} />
        </Field>
        <Field id="password" label="Password" help={`At least ${PASSWORD_MIN} characters.`} trouble={errors.password?.message}>
          <Form.Control type="password" autoComplete="new-password" isInvalid={!!errors.password} {...register('password')} />
        </Field>
        <Field id="zone" label="Zone" help="In which your shows are planned. Each show may have another." trouble={errors.zone?.message}>
          <Form.Select isInvalid={!!errors.zone} {...register('zone')}>
            <ZoneOptions chosen={zone} />
          </Form.Select>
        </Field>
        {refused && <Notice kind="refusal">{refused}</Notice>}
        <Button type="submit" className="mt-2" disabled={formState.isSubmitting}>
          Open the station
        </Button>
      </Form>
    </Threshold>
  );
}

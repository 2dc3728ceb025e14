import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { SignInRequest, type Me, type SetUpState } from '@lantern/contract';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useForm } from 'react-hook-form';
import { Link, Navigate, useLocation, useNavigate } from 'react-router';
import { server, ServerError, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { CANNOT_RUN_STAGE, canRunStage } from '../app/stage-support';
import { CodeField } from './CodeField';
import { Threshold } from './Threshold';

export function SignInView() {
  const setUp = useQuery({ queryKey: ['set-up'], queryFn: () => server.get<SetUpState>('/api/set-up') });
  const [refused, setRefused] = useState('');
  // Null: nobody has asked for one.
  const [code, setCode] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const next = (useLocation().state as { next?: string } | null)?.next ?? '/';
  const { register, handleSubmit, formState } = useForm<SignInRequest>({
    resolver: classValidatorResolver(SignInRequest),
    defaultValues: { email: '', password: '' },
  });
  if (setUp.data?.needed) return <Navigate to="/set-up" replace />;
  const signIn = handleSubmit(async (form) => {
    setRefused('');
    try {
      queries.setQueryData(['me'], await server.post<Me>('/api/session', { ...form, ...(code && { code }) }));
      await navigate(next);
    } catch (error) {
      const wantsCode = error instanceof ServerError && error.needs === 'code';
      if (wantsCode) setCode('');
      if (!wantsCode || code !== null) setRefused(wordsOf(error));
    }
  });
  return (
    <Threshold title="Come in" lead="Plan your shows, and light the lantern on every channel at once.">
      <Form noValidate onSubmit={(event) => void signIn(event)}>
        <Field id="email" label="Email address" trouble={formState.errors.email?.message}>
          <Form.Control type="email" autoComplete="username" autoFocus isInvalid={!!formState.errors.email} {...register('email')} />
        </Field>
        <Field id="password" label="Password" trouble={formState.errors.password?.message}>
          <Form.Control type="password" autoComplete="current-password" isInvalid={!!formState.errors.password} {...register('password')} />
        </Field>
        {code !== null && <CodeField value={code} onChange={setCode} />}
        {refused && <Notice kind="refusal">{refused}</Notice>}
        <Button type="submit" className="mt-2" disabled={formState.isSubmitting}>
          Sign in
        </Button>
        <Link to="/forgotten" className="ms-3">
          I have forgotten it
        </Link>
      </Form>
      {!canRunStage() && (
        <Notice kind="caution" live={false}>
          {CANNOT_RUN_STAGE}
        </Notice>
      )}
    </Threshold>
  );
}

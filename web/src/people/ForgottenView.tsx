// Back in without the old password: a mail is asked for, and what it brings leads to a new one.
import { ForgottenPassword, PASSWORD_MIN, PasswordAnew } from '@lantern/contract';
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import { server, ServerError, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { usePassShown } from './pass-shown';
import { Threshold } from './Threshold';

export function ForgottenView() {
  const [sentTo, setSentTo] = useState('');
  const [refused, setRefused] = useState('');
  const { register, handleSubmit, formState } = useForm<ForgottenPassword>({
    resolver: classValidatorResolver(ForgottenPassword),
    defaultValues: { email: '' },
  });
  const ask = handleSubmit(async (form) => {
    setRefused('');
    try {
      await server.post('/api/password/forgotten', form);
      setSentTo(form.email);
    } catch (error) {
      setRefused(wordsOf(error));
    }
  });
  if (sentTo)
    return (
      <Threshold title="Look into your mail" lead={`If ${sentTo} belongs to somebody here, a way to a new password goes out to it. It is good for an hour.`}>
        <Link to="/sign-in">Sign in</Link>
      </Threshold>
    );
  return (
    <Threshold title="A new password" lead="A way to it is sent to you by mail.">
      <Form noValidate onSubmit={(event) => void ask(event)}>
        <Field id="email" label="Email address" trouble={formState.errors.email?.message}>
          <Form.Control type="email" autoFocus autoComplete="username" isInvalid={!!formState.errors.email} {...register('email')} />
        </Field>
        {refused && <Notice kind="refusal">{refused}</Notice>}
        <Button type="submit" className="mt-2 me-3" disabled={formState.isSubmitting}>
          Send it
        </Button>
        <Link to="/sign-in">I know it after all</Link>
      </Form>
    </Threshold>
  );
}

export function NewPasswordView() {
  const pass = usePassShown();
  const [said, setSaid] = useState<{ done: boolean; words: string } | null>(null);
  const { register, handleSubmit, formState, setError } = useForm<PasswordAnew>({
    resolver: classValidatorResolver(PasswordAnew),
    defaultValues: { pass, password: '' },
  });
  const { errors } = formState;
  const keep = handleSubmit(async (form) => {
    setSaid(null);
    try {
      await server.post('/api/password/anew', form);
      setSaid({ done: true, words: 'Your password is changed, and all your browsers are signed out.' });
    } catch (error) {
      const fields = error instanceof ServerError ? Object.entries(error.fields) : [];
      for (const [field, message] of fields) setError(field as keyof PasswordAnew, { message });
      if (!fields.some(([field]) => field === 'password')) setSaid({ done: false, words: wordsOf(error) });
    }
  });
  if (said?.done)
    return (
      <Threshold title="Done" lead={said.words}>
        <Link to="/sign-in">Sign in with it</Link>
      </Threshold>
    );
  return (
    <Threshold title="Choose a new password" lead="All your browsers are signed out then, also any stage that is open.">
      <Form noValidate onSubmit={(event) => void keep(event)}>
        <Field
          id="password"
          label="Password"
          help={`At least ${PASSWORD_MIN} characters. Four words that nobody else puts together are good.`}
          trouble={errors.password?.message}
        >
          <Form.Control type="password" autoFocus autoComplete="new-password" isInvalid={!!errors.password} {...register('password')} />
        </Field>
        {(errors.pass || said) && (
          <Notice kind="refusal">
            {errors.pass?.message ?? said!.words} <Link to="/forgotten">Ask for another</Link>
          </Notice>
        )}
        <Button type="submit" className="mt-2" disabled={formState.isSubmitting}>
          Keep it
        </Button>
      </Form>
    </Threshold>
  );
}

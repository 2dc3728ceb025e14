// Where a pass into a team leads: who asks, as what, then a name and a password.
import { JoinRequest, PASSWORD_MIN, type Me, type TeamPassView } from '@lantern/contract';
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useForm } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { server, ServerError, wordsOf } from '../app/server';
import { noteSignedIn } from '../app/session';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { usePassShown } from './pass-shown';
import { ROLE_MAY, ROLE_WORDS } from './role-words';
import { Threshold } from './Threshold';

export function JoinView() {
  const pass = usePassShown();
  const invited = useQuery({
    queryKey: ['join', pass],
    queryFn: () => server.post<TeamPassView>('/api/join/pass', { pass }),
    retry: false,
    staleTime: Infinity,
  });
  if (invited.error)
    return (
      <Threshold title="This pass is not good" lead={wordsOf(invited.error)}>
        <Link to="/sign-in">Sign in</Link>
      </Threshold>
    );
  return invited.data ? <Join pass={pass} invited={invited.data} /> : null;
}

function Join({ pass, invited: { stationName, email, role, invitedBy } }: { pass: string; invited: TeamPassView }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [refused, setRefused] = useState('');
  const { register, handleSubmit, formState, setError } = useForm<JoinRequest>({
    resolver: classValidatorResolver(JoinRequest),
    defaultValues: { pass, name: '', password: '' },
  });
  const { errors } = formState;
  const join = handleSubmit(async (form) => {
    setRefused('');
    try {
      const me = await server.post<Me>('/api/join', form);
      // Whoever was signed in here before is so no more.
      queries.clear();
      queries.setQueryData(['me'], me);
      noteSignedIn(true);
      await navigate('/');
    } catch (error) {
      const fields = error instanceof ServerError ? Object.entries(error.fields) : [];
      for (const [field, message] of fields) setError(field as keyof JoinRequest, { message });
      if (!fields.length) setRefused(wordsOf(error));
    }
  });
  return (
    <Threshold
      title={`Join ${stationName}`}
      lead={`${invitedBy} asks you in. ${ROLE_WORDS[role]}: ${ROLE_MAY[role].replace(/^./, (first) => first.toLowerCase())}`}
    >
      <Form noValidate onSubmit={(event) => void join(event)}>
        <Field id="join-email" label="Email address" help="You sign in with it.">
          <Form.Control type="email" autoComplete="username" value={email} readOnly />
        </Field>
        <Field id="name" label="Your name" trouble={errors.name?.message}>
          <Form.Control autoFocus autoComplete="name" isInvalid={!!errors.name} {...register('name')} />
        </Field>
        <Field id="password" label="Password" help={`At least ${PASSWORD_MIN} characters.`} trouble={errors.password?.message}>
          <Form.Control type="password" autoComplete="new-password" isInvalid={!!errors.password} {...register('password')} />
        </Field>
        {refused && <Notice kind="refusal">{refused}</Notice>}
        <Button type="submit" className="mt-2" disabled={formState.isSubmitting}>
          Join
        </Button>
      </Form>
    </Threshold>
  );
}

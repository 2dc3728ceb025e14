// A person's own: the password, and the browsers in which they are signed in.
import { NameChange, PASSWORD_MIN, PasswordChange, type Me, type OwnPictureView, type SessionView } from '@lantern/contract';
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { instant, sayDistance } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { useNow } from '../app/clock';
import { useMe } from './me';
import { ROLE_WORDS } from './role-words';
import { SecondFactor } from './SecondFactor';
import { server, ServerError, wordsOf } from '../app/server';
import { noteSignedIn } from '../app/session';
import { PictureInput } from '../look/PictureInput';
import { AskedButton } from '../look/AskedButton';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { PageTitle } from '../app/PageTitle';

export function YouView() {
  const me = useMe();
  if (!me.data) return null;
  return (
    <div className="narrow">
      <PageTitle of="You" />
      <h1 className="mb-1">{me.data.name}</h1>
      <p className="soft mb-5">
        {ROLE_WORDS[me.data.role]} of {me.data.station.name}, {me.data.email}
      </p>
      <OwnPicture name={me.data.name} />
      <Name name={me.data.name} />
      <Sessions />
      <Password />
      <SecondFactor />
    </div>
  );
}

/** A portrait of the library, by one's own name: wherever portraits of people stand. */
function OwnPicture({ name }: { name: string }) {
  const queries = useQueryClient();
  const own = useQuery({ queryKey: ['me', 'picture'], queryFn: () => server.get<OwnPictureView>('/api/me/picture') });
  const [trouble, setTrouble] = useState('');
  const change = (work: Promise<OwnPictureView>) => {
    setTrouble('');
    work.then(
      (now) => queries.setQueryData(['me', 'picture'], now),
      (error: unknown) => setTrouble(wordsOf(error)),
    );
  };
  const picture = own.data?.picture ?? null;
  return (
    <section aria-labelledby="picture" className="mb-5">
      <h2 id="picture">Your picture</h2>
      <div className="you-picture">
        <span className="portrait round" aria-hidden={!picture}>
          {picture ? <img src={picture.url} alt={`Portrait of ${name}`} /> : name.slice(0, 1)}
        </span>
        <div>
          <p className="soft small-words mb-2">On the pictures of your shows, and beside your name on their sheets. It goes by your name.</p>
          <span className="button-row">
            <PictureInput onPicture={(file) => change(server.put<OwnPictureView>('/api/me/picture', file))} onTrouble={setTrouble}>
              {picture ? 'Choose another' : 'Choose a picture'}
            </PictureInput>
            {picture && (
              <Button variant="quiet" size="sm" onClick={() => change(server.delete<OwnPictureView>('/api/me/picture'))}>
                Take it away
              </Button>
            )}
          </span>
        </div>
      </div>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </section>
  );
}

function Name({ name }: { name: string }) {
  const queries = useQueryClient();
  const [said, setSaid] = useState<{ kind: 'done' | 'refusal'; words: string } | null>(null);
  const { register, handleSubmit, formState } = useForm<NameChange>({ resolver: classValidatorResolver(NameChange), defaultValues: { name } });
  const { errors } = formState;
  const keep = handleSubmit(async (form) => {
    try {
      queries.setQueryData(['me'], await server.put<Me>('/api/me/name', form));
      setSaid({ kind: 'done', words: 'So you are called from now on.' });
    } catch (error) {
      setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  });
  return (
    <section aria-labelledby="name" className="mb-5">
      <h2 id="name">Your name</h2>
      <Form noValidate onSubmit={(event) => void keep(event)}>
        <Field id="own-name" label="As the team, and viewers of your picture, read it" trouble={errors.name?.message}>
          <Form.Control autoComplete="name" isInvalid={!!errors.name} {...register('name')} />
        </Field>
        <Button type="submit" variant="outline-primary" disabled={formState.isSubmitting}>
          Keep the name
        </Button>
      </Form>
      {said && <Notice kind={said.kind}>{said.words}</Notice>}
    </section>
  );
}

function Sessions() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const now = useNow(30_000);
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: () => server.get<SessionView[]>('/api/sessions') });
  const [trouble, setTrouble] = useState('');
  const end = async (id: string) => {
    try {
      await server.delete(`/api/sessions/${id}`);
      await queries.invalidateQueries({ queryKey: ['sessions'] });
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  const everywhere = async () => {
    try {
      await server.delete('/api/sessions');
      noteSignedIn(false);
      queries.clear();
      await navigate('/sign-in');
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <section aria-labelledby="sessions" className="mb-5">
      <h2 id="sessions">Where you are signed in</h2>
      <ul className="start-list mb-2">
        {sessions.data?.map(({ id, browser, openedAt, seenAt, own }) => (
          <li key={id}>
            <span>
              <b>{browser || 'A browser'}</b> {own && <span className="soft">· this one</span>}
              <span className="soft small-words d-block">
                signed in {sayDistance(instant(openedAt) - now)}, last seen {sayDistance(instant(seenAt) - now)}
              </span>
            </span>
            {!own && <AskedButton label="Sign out there" name={`Sign out ${browser}`} question="Sign it out?" yes="Sign out" onYes={() => void end(id)} />}
          </li>
        ))}
      </ul>
      <AskedButton
        label="Sign out everywhere"
        question="Also here, and from any stage that is open?"
        yes="Sign out everywhere"
        onYes={() => void everywhere()}
      />
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </section>
  );
}

function Password() {
  const queries = useQueryClient();
  const [said, setSaid] = useState<{ kind: 'done' | 'refusal'; words: string } | null>(null);
  const { register, handleSubmit, formState, setError, reset } = useForm<PasswordChange>({
    resolver: classValidatorResolver(PasswordChange),
    defaultValues: { password: '', next: '' },
  });
  const { errors } = formState;
  const change = handleSubmit(async (form) => {
    setSaid(null);
    try {
      await server.put('/api/me/password', form);
      reset();
      setSaid({ kind: 'done', words: 'Your password is changed. All other browsers were signed out.' });
      await queries.invalidateQueries({ queryKey: ['sessions'] });
    } catch (error) {
      const fields = error instanceof ServerError ? Object.entries(error.fields) : [];
      for (const [field, message] of fields) setError(field as keyof PasswordChange, { message });
      if (!fields.length) setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  });
  return (
    <section aria-labelledby="password" className="mb-5">
      <h2 id="password">Password</h2>
      <Form noValidate onSubmit={(event) => void change(event)}>
        <Field id="present-password" label="Your present password" trouble={errors.password?.message}>
          <Form.Control type="password" autoComplete="current-password" isInvalid={!!errors.password} {...register('password')} />
        </Field>
        <Field
          id="next-password"
          label="The new one"
          help={`At least ${PASSWORD_MIN} characters. Four words that nobody else puts together are good.`}
          trouble={errors.next?.message}
        >
          <Form.Control type="password" autoComplete="new-password" isInvalid={!!errors.next} {...register('next')} />
        </Field>
        <Button type="submit" variant="outline-primary" disabled={formState.isSubmitting}>
          Change the password
        </Button>
      </Form>
      {said && <Notice kind={said.kind}>{said.words}</Notice>}
    </section>
  );
}

// The people of the station: who they are, as what, and who is asked to join.
import { TeamInvite, type InvitedToTeam, type TeamMember, type TeamView as Team } from '@lantern/contract';
import { instant, may, ROLES, sayDistance, type Role } from '@lantern/core';
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useForm, useWatch } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { useNow } from '../app/clock';
import { useActs } from '../app/drafts';
import { PageTitle } from '../app/PageTitle';
import { server, ServerError, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { useMe } from './me';
import { ROLE_MAY, ROLE_WORDS } from './role-words';

const TEAM = ['team'];

export function TeamView() {
  const me = useMe();
  const team = useQuery({ queryKey: TEAM, queryFn: () => server.get<Team>('/api/team') });
  if (team.error && !team.data) return <Notice kind="refusal">{wordsOf(team.error)}</Notice>;
  if (!team.data || !me.data) return null;
  const keeps = may(me.data.role, 'keep the team');
  return (
    <div className="narrow">
      <PageTitle of="Team" />
      <h1 className="mb-2">Team</h1>
      <p className="soft mb-4">Who belongs to {me.data.station.name}, and what each may do.</p>
      <ul className="team">
        {team.data.people.map((person) => (
          <Member key={person.id} person={person} keeps={keeps} />
        ))}
        {team.data.invited.map((invited) => (
          <Invited key={invited.id} invited={invited} />
        ))}
      </ul>
      {keeps ? <Invite /> : <p className="soft">The owner says who belongs to the team, and as what.</p>}
    </div>
  );
}

function useTeamActs() {
  const queries = useQueryClient();
  return useActs(() => queries.invalidateQueries({ queryKey: TEAM }));
}

function Member({ person: { id, name, email, role, own, seenAt }, keeps }: { person: TeamMember; keeps: boolean }) {
  const now = useNow(60_000);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { trouble, busy, act } = useTeamActs();
  const done = async () => {
    if (!own) return;
    // Whoever changes what they are themselves signs in again as that.
    queries.clear();
    await navigate('/sign-in');
  };
  const giveRole = (next: Role) =>
    act(async () => {
      await server.put(`/api/team/${id}/role`, { role: next });
      await done();
    });
  const remove = () =>
    act(async () => {
      await server.delete(`/api/team/${id}`);
      await done();
    });
  return (
    <li>
      <div>
        <b>{name}</b> {own && <Link to="/you">you</Link>}
        <span className="soft small-words d-block">
          {email && `${email} · `}
          {seenAt === null ? 'signed in nowhere' : `last seen ${sayDistance(instant(seenAt) - now)}`}
        </span>
      </div>
      {keeps ? (
        <Form.Select size="sm" aria-label={`What ${name} is`} value={role} disabled={busy} onChange={({ target }) => void giveRole(target.value as Role)}>
          {ROLES.map((each) => (
            <option key={each} value={each}>
              {ROLE_WORDS[each]}
            </option>
          ))}
        </Form.Select>
      ) : (
        <span>{ROLE_WORDS[role]}</span>
      )}
      {keeps && (
        <AskedButton
          label="Take out"
          name={`Take ${name} out`}
          question={own ? 'Take yourself out? You are signed out everywhere.' : `Take ${name} out? They are signed out everywhere, also from a stage.`}
          yes="Take out"
          onYes={() => void remove()}
          disabled={busy}
        />
      )}
      {trouble && <Notice kind="refusal">{trouble.words}</Notice>}
    </li>
  );
}

function Invited({ invited: { id, email, role, invitedBy, until } }: { invited: InvitedToTeam }) {
  const now = useNow(60_000);
  const { trouble, busy, act } = useTeamActs();
  return (
    <li>
      <div>
        <b>{email}</b>
        <span className="soft small-words d-block">
          asked by {invitedBy}; the pass is good for {sayDistance(instant(until) - now).replace(/^in /, '')}
        </span>
      </div>
      <span>{ROLE_WORDS[role]}, once they join</span>
      <AskedButton
        label="Take back"
        name={`Take the invitation of ${email} back`}
        question="Take it back? The pass in the mail is good no more."
        yes="Take back"
        onYes={() => void act(() => server.delete(`/api/team/invitations/${id}`))}
        disabled={busy}
      />
      {trouble && <Notice kind="refusal">{trouble.words}</Notice>}
    </li>
  );
}

function Invite() {
  const queries = useQueryClient();
  const [said, setSaid] = useState<{ kind: 'done' | 'refusal'; words: string } | null>(null);
  const { register, handleSubmit, formState, setError, reset, control } = useForm<TeamInvite>({
    resolver: classValidatorResolver(TeamInvite),
    defaultValues: { email: '', role: 'producer' },
  });
  const { errors } = formState;
  const role = useWatch({ control, name: 'role' });
  const invite = handleSubmit(async (form) => {
    setSaid(null);
    try {
      queries.setQueryData(TEAM, await server.post<Team>('/api/team/invitations', form));
      reset();
      setSaid({ kind: 'done', words: `A pass goes out to ${form.email}. It is good for a week, and once.` });
    } catch (error) {
      const fields = error instanceof ServerError ? Object.entries(error.fields) : [];
      for (const [field, message] of fields) setError(field as keyof TeamInvite, { message });
      if (!fields.length) setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  });
  return (
    <section aria-labelledby="invite" className="mt-5">
      <h2 id="invite">Ask somebody to join</h2>
      <Form noValidate onSubmit={(event) => void invite(event)}>
        <Field id="invite-email" label="Email address" trouble={errors.email?.message}>
          <Form.Control type="email" autoComplete="off" isInvalid={!!errors.email} {...register('email')} />
        </Field>
        <Field id="invite-role" label="As" help={ROLE_MAY[role]}>
          <Form.Select {...register('role')}>
            {ROLES.map((each) => (
              <option key={each} value={each}>
                {ROLE_WORDS[each]}
              </option>
            ))}
          </Form.Select>
        </Field>
        <Button type="submit" disabled={formState.isSubmitting}>
          Send a pass
        </Button>
      </Form>
      {said && (
        <Notice kind={said.kind}>
          {said.words} {said.kind === 'done' && <Link to="/mail">See the outbox</Link>}
        </Notice>
      )}
    </section>
  );
}

// Whom a show is for, where it is for invited people alone: asked by hand or from the contacts, and what they answered.
import type { ContactsInvited, InvitationView, ShowView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { contactsFor, groupsOf, useContacts } from '../contacts/contact-queries';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';

const ANSWER_WORDS: Record<InvitationView['answer'], string> = { asked: 'asked', accepted: 'comes', declined: 'does not come' };

/** Those who are invited, and what they answered. */
export function Invitations({ show, invitations }: { show: ShowView; invitations: readonly InvitationView[] }) {
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const [trouble, setTrouble] = useState('');
  const known = () => queries.invalidateQueries({ queryKey: ['audience', show.id] });
  const act = async (work: () => Promise<unknown>) => {
    setTrouble('');
    try {
      await work();
      await known();
      return true;
    } catch (error) {
      setTrouble(wordsOf(error));
      return false;
    }
  };
  const invite = async () => {
    if (await act(() => server.post(`/api/shows/${show.id}/invitations`, { name, email }))) {
      setName('');
      setEmail('');
    }
  };
  return (
    <div className="mb-3">
      <ul className="start-list mb-2">
        {invitations.map((invitation) => (
          <li key={invitation.id}>
            <span>
              <b>{invitation.name}</b> <span className="soft small-words">{invitation.email}</span>
            </span>
            <span className="d-flex gap-3 small-words">
              {ANSWER_WORDS[invitation.answer]}
              <AskedButton
                label="Take back"
                name={`Take back the invitation of ${invitation.name}`}
                question={`Their link leads nowhere then. Take it back?`}
                yes="Take back"
                onYes={() => void act(() => server.delete(`/api/shows/${show.id}/invitations/${invitation.id}`))}
              />
            </span>
          </li>
        ))}
      </ul>
      <div className="invite-row">
        <Form.Control aria-label="Whom to invite" placeholder="Name" value={name} onChange={({ target }) => setName(target.value)} />
        <Form.Control aria-label="Their address" type="email" placeholder="Mail address" value={email} onChange={({ target }) => setEmail(target.value)} />
        <Button variant="outline-primary" size="sm" disabled={!name.trim() || !email.trim()} onClick={() => void invite()}>
          Invite
        </Button>
      </div>
      <FromContacts show={show} invitations={invitations} onInvited={() => void known()} />
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </div>
  );
}

/** Invites contacts, all of a group or some of them. */
function FromContacts({ show, invitations, onInvited }: { show: ShowView; invitations: readonly InvitationView[]; onInvited: () => void }) {
  const contacts = useContacts();
  const [group, setGroup] = useState('');
  const [lookFor, setLookFor] = useState('');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [said, setSaid] = useState<{ done: boolean; words: string } | null>(null);
  const invited = new Set(invitations.map(({ email }) => email));
  const open = (contacts.data ?? []).filter(({ email }) => !invited.has(email));
  if (!contacts.data?.length) return null;
  const shown = contactsFor(open, group, lookFor);
  const chosen = shown.filter(({ id }) => !left.has(id));
  const invite = async () => {
    try {
      const { invited: count } = await server.post<ContactsInvited>(`/api/shows/${show.id}/invitations/contacts`, { contactIds: chosen.map(({ id }) => id) });
      setSaid({ done: true, words: count === 1 ? '1 invitation goes out.' : `${count} invitations go out.` });
      onInvited();
    } catch (error) {
      setSaid({ done: false, words: wordsOf(error) });
    }
  };
  return (
    <details className="small-words mt-2">
      <summary>From your contacts</summary>
      <div className="contacts-filter mt-2">
        <Form.Control
          size="sm"
          type="search"
          aria-label="Find a contact"
          placeholder="Find a name or an address"
          value={lookFor}
          onChange={({ target }) => setLookFor(target.value)}
        />
        <Form.Select size="sm" aria-label="Group" value={group} onChange={({ target }) => setGroup(target.value)}>
          <option value="">All groups</option>
          {groupsOf(open).map(({ name, count }) => (
            <option key={name} value={name}>
              {name} ({count})
            </option>
          ))}
        </Form.Select>
      </div>
      {!open.length && <p className="mb-0">All your contacts are invited.</p>}
      <ul className="contacts-choice">
        {shown.map(({ id, name, email }) => (
          <li key={id}>
            <Form.Check
              id={`invite-${id}`}
              checked={!left.has(id)}
              onChange={({ target }) => setLeft(new Set(target.checked ? [...left].filter((each) => each !== id) : [...left, id]))}
              label={
                <>
                  {name} <span className="soft">{email}</span>
                </>
              }
            />
          </li>
        ))}
      </ul>
      {chosen.length > 0 && (
        <Button variant="outline-primary" size="sm" onClick={() => void invite()}>
          {chosen.length === 1 ? 'Invite 1 person' : `Invite ${chosen.length} people`}
        </Button>
      )}
      {said && <Notice kind={said.done ? 'done' : 'refusal'}>{said.words}</Notice>}
    </details>
  );
}

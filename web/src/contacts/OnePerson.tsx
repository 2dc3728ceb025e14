// What is kept of one person: looked for by their address, given out as a file, removed where they ask for it.
import type { KeptPart, PersonKept } from '@lantern/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { saveAs } from '../app/save-as';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';
import { CONTACTS } from './contact-queries';

const SAID: Record<KeptPart['what'], (count: number) => string> = {
  contact: () => 'they are among the contacts',
  invitations: (count) => `${count === 1 ? 'an invitation' : `${count} invitations`}, with answers and whether they came`,
  reminders: (count) => (count === 1 ? 'a reminder that they asked for' : `${count} reminders that they asked for`),
  news: () => 'they asked to hear of new shows',
  guest: (count) => (count === 1 ? 'they were asked to be a guest' : `they were asked to be a guest ${count} times`),
  mails: (count) => (count === 1 ? 'a mail to them' : `${count} mails to them`),
};

export function OnePerson() {
  const queries = useQueryClient();
  const [email, setEmail] = useState('');
  const [removed, setRemoved] = useState(false);
  const look = useMutation({ mutationFn: (address: string) => server.post<PersonKept>('/api/person', { email: address }), onMutate: () => setRemoved(false) });
  const remove = useMutation({
    mutationFn: (address: string) => server.post<PersonKept>('/api/person/removal', { email: address }),
    onSuccess: async () => {
      setRemoved(true);
      await queries.invalidateQueries({ queryKey: CONTACTS });
    },
  });
  const kept = removed ? remove.data : look.data;
  return (
    <section aria-labelledby="one-person" className="mt-4">
      <h2 id="one-person">One person</h2>
      <p className="soft small-words">For somebody who asks what you keep of them, or wants to be forgotten.</p>
      <form
        className="d-flex gap-2"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (email.trim()) look.mutate(email.trim());
        }}
      >
        <Form.Control
          size="sm"
          type="email"
          aria-label="Their mail address"
          placeholder="Mail address"
          value={email}
          onChange={({ target }) => setEmail(target.value)}
        />
        <Button type="submit" variant="outline-primary" size="sm" disabled={!email.trim() || look.isPending}>
          Look
        </Button>
      </form>
      {look.error && <Notice kind="refusal">{wordsOf(look.error)}</Notice>}
      {remove.error && <Notice kind="refusal">{wordsOf(remove.error)}</Notice>}
      {removed && <Notice kind="done">{kept?.parts.length ? 'Removed, but for what is left below.' : `Nothing is kept under ${kept?.email} any more.`}</Notice>}
      {kept && !removed && !kept.parts.length && <p className="mt-3 mb-0">Nothing is kept under {kept.email}.</p>}
      {kept && kept.parts.length > 0 && (
        <div className="mt-3">
          <b>{kept.email}</b>
          <ul className="mb-2">
            {kept.parts.map(({ what, rows, stays }) => (
              <li key={what}>
                {SAID[what](rows.length)}
                {stays && <span className="soft small-words d-block">{stays}</span>}
              </li>
            ))}
          </ul>
          <p className="soft small-words">
            What somebody wrote on a page or a channel stands under a name alone, and goes thirty days after the show. A name on a sheet is taken out there.
          </p>
          <span className="button-row">
            <Button
              variant="outline-primary"
              size="sm"
              onClick={() => saveAs(`${kept.email}.json`, new Blob([JSON.stringify(kept, null, 2)], { type: 'application/json' }))}
            >
              Give it out (JSON)
            </Button>
            <AskedButton
              label="Remove it"
              question={`Remove all of this of ${kept.email}? It cannot be brought back.`}
              yes="Remove"
              disabled={remove.isPending}
              onYes={() => remove.mutate(kept.email)}
            />
          </span>
        </div>
      )}
    </section>
  );
}

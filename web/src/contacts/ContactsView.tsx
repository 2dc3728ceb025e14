// Whom the station writes to: contacts in groups, by hand or from a table.
import { CONTACTS_TEXT_MAX, type ContactDraft, type ContactsImported, type ContactView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { FileInput } from '../look/FileInput';
import { Notice } from '../look/Notice';
import { CONTACTS, contactsFor, groupsOf, useContacts } from './contact-queries';
import { OnePerson } from './OnePerson';
import { PageTitle } from '../app/PageTitle';

const NOBODY: ContactDraft = { name: '', email: '', groups: [] };

export function ContactsView() {
  const contacts = useContacts();
  const queries = useQueryClient();
  const [group, setGroup] = useState('');
  const [address] = useSearchParams();
  const [lookFor, setLookFor] = useState(address.get('find') ?? '');
  const [open, setOpen] = useState<string | null>(null);
  if (contacts.error) return <Notice kind="refusal">{wordsOf(contacts.error)}</Notice>;
  if (!contacts.data) return null;
  const groups = groupsOf(contacts.data);
  const shown = contactsFor(contacts.data, group, lookFor);
  const take = (after: ContactView[]) => {
    queries.setQueryData(CONTACTS, after);
    setOpen(null);
  };
  return (
    <>
      <PageTitle of="Contacts" />
      <h1 className="mb-2">Contacts</h1>
      <p className="soft mb-4">
        Whom you invite to shows. What goes out is in the <Link to="/mail">outbox</Link>.
      </p>
      <div className="with-side">
        <section aria-label="All contacts">
          <div className="contacts-filter">
            <Form.Control
              type="search"
              aria-label="Find a contact"
              placeholder="Find a name, an address, a group"
              value={lookFor}
              onChange={({ target }) => setLookFor(target.value)}
            />
            {groups.length > 0 && (
              <Form.Select aria-label="Group" value={group} onChange={({ target }) => setGroup(target.value)}>
                <option value="">All {contacts.data.length}</option>
                {groups.map(({ name, count }) => (
                  <option key={name} value={name}>
                    {name} ({count})
                  </option>
                ))}
              </Form.Select>
            )}
          </div>
          {!contacts.data.length && <p>Nobody yet. Add somebody, or bring in a table with names and addresses.</p>}
          {contacts.data.length > 0 && !shown.length && <p>Nobody like that. Look for something else, or in all groups.</p>}
          <ul className="contacts">
            {shown.map((contact) => (
              <li key={contact.id}>
                {open === contact.id ? (
                  <ContactForm first={contact} id={contact.id} take={take} done={() => setOpen(null)} />
                ) : (
                  <>
                    <b>{contact.name}</b>
                    <span className="soft small-words">{contact.email}</span>
                    <span className="small-words">{contact.groups.join(', ')}</span>
                    <Button variant="quiet" size="sm" aria-label={`Change ${contact.name}`} onClick={() => setOpen(contact.id)}>
                      Change
                    </Button>
                  </>
                )}
              </li>
            ))}
          </ul>
        </section>
        <div>
          <section aria-labelledby="add-contact" className="mb-4">
            <h2 id="add-contact">Add somebody</h2>
            <ContactForm key={contacts.data.length} first={group ? { ...NOBODY, groups: [group] } : NOBODY} id={null} take={take} done={null} />
          </section>
          <BringIn />
          <OnePerson />
        </div>
      </div>
    </>
  );
}

function ContactForm({ first, id, take, done }: { first: ContactDraft; id: string | null; take: (after: ContactView[]) => void; done: (() => void) | null }) {
  const queries = useQueryClient();
  const [name, setName] = useState(first.name);
  const [email, setEmail] = useState(first.email);
  const [groups, setGroups] = useState(first.groups.join(', '));
  const [trouble, setTrouble] = useState('');
  const keep = async () => {
    const draft: ContactDraft = { name, email, groups: [...new Set(groups.split(',').map((group) => group.trim()))].filter(Boolean) };
    try {
      take(id ? await server.put<ContactView[]>(`/api/contacts/${id}`, draft) : await server.post<ContactView[]>('/api/contacts', draft));
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  const remove = async () => {
    try {
      await server.delete(`/api/contacts/${id}`);
      await queries.invalidateQueries({ queryKey: CONTACTS });
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <form
      className="contact-form"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <Form.Control size="sm" aria-label="Name" placeholder="Name" value={name} maxLength={80} onChange={({ target }) => setName(target.value)} />
      <Form.Control
        size="sm"
        type="email"
        aria-label="Mail address"
        placeholder="Mail address"
        value={email}
        onChange={({ target }) => setEmail(target.value)}
      />
      <Form.Control size="sm" aria-label="Groups" placeholder="Groups, with commas between" value={groups} onChange={({ target }) => setGroups(target.value)} />
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <span className="button-row">
        <Button type="submit" variant="outline-primary" size="sm" disabled={!name.trim() || !email.trim()}>
          {id ? 'Keep' : 'Add'}
        </Button>
        {done && (
          <Button variant="quiet" size="sm" onClick={done}>
            Leave as it was
          </Button>
        )}
        {id && <AskedButton label="Take out" question={`Take ${first.name} out of the contacts?`} yes="Take out" onYes={() => void remove()} />}
      </span>
    </form>
  );
}

/** A table of contacts from a file, and back. */
function BringIn() {
  const queries = useQueryClient();
  const [result, setResult] = useState<ContactsImported | null>(null);
  const [trouble, setTrouble] = useState('');
  const read = async (file: File | undefined) => {
    setResult(null);
    setTrouble('');
    if (!file) return;
    if (file.size > CONTACTS_TEXT_MAX) return setTrouble(`${file.name} is too large. Bring it in by parts.`);
    try {
      setResult(await server.post<ContactsImported>('/api/contacts/table', { text: await file.text() }));
      await queries.invalidateQueries({ queryKey: CONTACTS });
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <section aria-labelledby="bring-in">
      <h2 id="bring-in">From a table, and back</h2>
      <p className="soft small-words mb-2">
        A CSV file whose first line says “Name”, “Address” and, where you like, “Groups”. Known addresses are not doubled.
      </p>
      <span className="button-row">
        <FileInput accept=".csv,text/csv,text/plain" onFile={(file) => void read(file)}>
          Bring in a table
        </FileInput>
        <a className="btn btn-quiet btn-sm" href="/api/contacts.csv" download>
          Save all as a table
        </a>
      </span>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {result && (
        <Notice kind={result.refused.length ? 'caution' : 'done'}>
          {result.added} added, {result.changed} changed.
          {result.refused.slice(0, 8).map(({ line, words }) => (
            <span key={line} className="d-block">
              Line {line}: {words}
            </span>
          ))}
          {result.refused.length > 8 && <span className="d-block">And {result.refused.length - 8} more lines that could not be taken.</span>}
        </Notice>
      )}
    </section>
  );
}

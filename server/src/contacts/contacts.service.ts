// The station's contacts: kept by hand or brought in as a table, each address once.
import { ContactDraft, GROUPS_MAX, type ContactsImported, type ContactView } from '@lantern/contract';
import { writeCsv } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { plainToInstance } from 'class-transformer';
import { validate } from 'class-validator';
import { randomUUID } from 'node:crypto';
import { DataSource, In, Not } from 'typeorm';
import { ForeignFiles } from '../foreign/foreign-files';
import { PlainError } from '../foundation/errors';
import { addRow, changeRow, together } from '../foundation/together';
import { Contact } from './contact.entities';
import type { TableRow } from '../foreign/read-table';

const MOST_CONTACTS = 5_000;
/** The group of those who were asked to be in a show. */
const GUESTS = 'Guests';
const HEADINGS: Record<'name' | 'email' | 'groups', RegExp> = {
  name: /^(name|full name)$/i,
  email: /^(e-?mail|mail|address|e-?mail address|mail address)$/i,
  groups: /^(groups?|lists?)$/i,
};

/** SQLite takes a bounded number of values at a time. */
const ROWS_AT_ONCE = 500;

@Injectable()
export class ContactsService {
  constructor(
    private readonly database: DataSource,
    private readonly foreign: ForeignFiles,
  ) {}

  async list(stationId: string): Promise<ContactView[]> {
    const contacts = await this.database.getRepository(Contact).findBy({ stationId });
    return contacts.map(viewOf).sort((a, b) => a.name.localeCompare(b.name, 'en-GB'));
  }

  /** The contacts with these identifiers. Throws where one is not the station's. */
  async some(stationId: string, ids: readonly string[]): Promise<Contact[]> {
    const found = await this.database.getRepository(Contact).findBy({ stationId, id: In([...ids]) });
    if (found.length !== new Set(ids).size) throw new PlainError(404, 'One of these contacts was removed meanwhile. Look at the list again.');
    return found;
  }

  /** A new contact, or with an `id` another state of one. */
  async keep(stationId: string, draft: ContactDraft, id: string | null): Promise<void> {
    const contacts = this.database.getRepository(Contact);
    const kept = tidied(draft);
    if (id !== null && !(await contacts.existsBy({ id, stationId }))) throw new PlainError(404, 'This contact was removed meanwhile.');
    if (await contacts.existsBy({ stationId, email: kept.email, ...(id !== null && { id: Not(id) }) }))
      throw new PlainError(409, `${kept.email} is among the contacts already.`);
    if (id === null) await this.room(stationId, 1);
    if (id === null) await addRow(this.database.manager, Contact, { id: randomUUID(), stationId, ...kept, caption: '', zone: null });
    else await changeRow(this.database.manager, Contact, { id, stationId }, kept);
  }

  /** Whoever was asked to a show is known by then: with what stood beneath their name, and where they are. */
  async noteGuest(stationId: string, guest: { name: string; email: string; caption: string; zone: string | null }): Promise<void> {
    const known = await this.database.getRepository(Contact).findOneBy({ stationId, email: guest.email });
    const { name, caption, zone } = guest;
    if (known)
      return void (await changeRow(this.database.manager, Contact, { id: known.id }, { name, caption: caption || known.caption, zone: zone ?? known.zone }));
    if ((await this.database.getRepository(Contact).countBy({ stationId })) >= MOST_CONTACTS) return;
    await addRow(this.database.manager, Contact, { id: randomUUID(), stationId, ...guest, groups: [GUESTS] });
  }

  async remove(stationId: string, id: string): Promise<void> {
    await this.database.getRepository(Contact).delete({ id, stationId });
  }

  /** Takes a table in: new addresses are added, known ones get the name and the groups as well. What cannot be taken is told line by line. */
  async read(stationId: string, text: string): Promise<ContactsImported> {
    const rows = await this.foreign.ask<TableRow[]>({ kind: 'table', text });
    const columns = columnsOf(rows[0]?.cells ?? []);
    const contacts = this.database.getRepository(Contact);
    const known = new Map((await contacts.findBy({ stationId })).map((contact) => [contact.email, contact]));
    const result: ContactsImported = { added: 0, changed: 0, refused: [] };
    const kept = new Map<string, Contact>();
    for (const { line, cells } of rows.slice(1)) {
      const cell = (column: number) => (column < 0 ? '' : (cells[column] ?? '').trim());
      const groups = cell(columns.groups)
        // One more than is taken is enough to say that there are too many.
        .split(/[;|]/, GROUPS_MAX + 1)
        .map((group) => group.trim())
        .filter(Boolean);
      const draft = plainToInstance(ContactDraft, { name: cell(columns.name) || cell(columns.email).split('@')[0], email: cell(columns.email), groups });
      const [wrong] = await validate(draft);
      if (wrong) {
        result.refused.push({ line, words: Object.values(wrong.constraints ?? {})[0] ?? 'This line cannot be read.' });
        continue;
      }
      const { name, email, groups: named } = tidied(draft);
      const before = kept.get(email) ?? known.get(email);
      const { caption, zone } = before ?? { caption: '', zone: null };
      const after = { id: before?.id ?? randomUUID(), stationId, name, email, groups: merged(before?.groups ?? [], named), caption, zone };
      if (!before) result.added += 1;
      else if (before.name !== name || before.groups.length !== after.groups.length) result.changed += kept.has(email) ? 0 : 1;
      kept.set(email, Object.assign(new Contact(), after));
    }
    await this.room(stationId, result.added);
    const taken = [...kept.values()];
    await together(this.database, async (entities) => {
      for (let at = 0; at < taken.length; at += ROWS_AT_ONCE) await entities.upsert(Contact, taken.slice(at, at + ROWS_AT_ONCE), ['id']);
    });
    return result;
  }

  async table(stationId: string): Promise<string> {
    return writeCsv([['Name', 'Address', 'Groups'], ...(await this.list(stationId)).map(({ name, email, groups }) => [name, email, groups.join('; ')])]);
  }

  private async room(stationId: string, more: number): Promise<void> {
    if ((await this.database.getRepository(Contact).countBy({ stationId })) + more > MOST_CONTACTS) {
      throw new PlainError(409, `A station keeps at most ${MOST_CONTACTS.toLocaleString('en-GB')} contacts. Take out some that you no longer write to.`);
    }
  }
}

const viewOf = ({ id, name, email, groups, caption, zone }: Contact): ContactView => ({ id, name, email, groups, caption, zone });

function tidied({ name, email, groups }: ContactDraft): ContactDraft {
  return { name: name.trim(), email: email.trim().toLowerCase(), groups: merged([], groups) };
}

/** Both lists of groups; the same group is written as it was first. */
function merged(groups: readonly string[], more: readonly string[]): string[] {
  const all = [...groups];
  for (const group of more.map((each) => each.trim()).filter(Boolean)) if (!all.some((each) => each.toLowerCase() === group.toLowerCase())) all.push(group);
  return all;
}

function columnsOf(headings: readonly string[]): Record<'name' | 'email' | 'groups', number> {
  const find = (wanted: RegExp) => headings.findIndex((heading) => wanted.test(heading.trim()));
  const columns = { name: find(HEADINGS.name), email: find(HEADINGS.email), groups: find(HEADINGS.groups) };
  if (columns.email < 0) throw new PlainError(400, 'The first line must name the columns, among them “Name” and “Address”. Add such a line and try again.');
  return columns;
}

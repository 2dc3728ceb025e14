import {
  ContactDraft,
  ContactsText,
  InviteContacts,
  PersonAsked,
  type ContactsImported,
  type ContactsInvited,
  type ContactView,
  type OutboxView,
  type PersonKept,
} from '@lantern/contract';
import { Body, Controller, Delete, Get, Header, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { PlainError } from '../foundation/errors';
import { InvitationsService } from '../invitations/invitations.service';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { OutboxService } from '../mail/outbox.service';
import { ShowId } from '../shows/show-id';
import { ShowsService } from '../shows/shows.service';
import { ContactsService } from './contacts.service';
import { OnePersonService } from './one-person.service';

const Id = (words: string) => Param('id', new ParseUUIDPipe({ exceptionFactory: () => new PlainError(404, words) }));
const ContactId = () => Id('There is no such contact.');

/** Addresses of people: for owners and producers. */
@Controller('api')
export class ContactsController {
  constructor(
    private readonly contacts: ContactsService,
    private readonly onePerson: OnePersonService,
    private readonly audit: AuditService,
    private readonly invitations: InvitationsService,
    private readonly shows: ShowsService,
    private readonly outbox: OutboxService,
  ) {}

  @May('write to people')
  @Get('contacts')
  list(@SignedIn() person: Person): Promise<ContactView[]> {
    return this.contacts.list(person.stationId);
  }

  @May('write to people')
  @Get('contacts.csv')
  @Header('content-type', 'text/csv; charset=utf-8')
  @Header('content-disposition', 'attachment; filename="contacts.csv"')
  table(@SignedIn() person: Person): Promise<string> {
    return this.contacts.table(person.stationId);
  }

  /** What is kept of one person; asked for in the body, since addresses of people belong in no log. */
  @May('write to people')
  @Post('person')
  @HttpCode(200)
  keptOf(@SignedIn() person: Person, @Body() { email }: PersonAsked): Promise<PersonKept> {
    return this.onePerson.of(person.stationId, email);
  }

  @May('write to people')
  @Post('person/removal')
  @HttpCode(200)
  async removePerson(@SignedIn() person: Person, @Body() { email }: PersonAsked): Promise<PersonKept> {
    const left = await this.onePerson.remove(person.stationId, email);
    await this.audit.note(person, 'removed', 'what was kept of one person');
    return left;
  }

  @May('write to people')
  @Post('contacts')
  async add(@SignedIn() person: Person, @Body() body: ContactDraft): Promise<ContactView[]> {
    await this.contacts.keep(person.stationId, body, null);
    return this.contacts.list(person.stationId);
  }

  @May('write to people')
  @Post('contacts/table')
  @HttpCode(200)
  read(@SignedIn() person: Person, @Body() { text }: ContactsText): Promise<ContactsImported> {
    return this.contacts.read(person.stationId, text);
  }

  @May('write to people')
  @Put('contacts/:id')
  async change(@SignedIn() person: Person, @ContactId() id: string, @Body() body: ContactDraft): Promise<ContactView[]> {
    await this.contacts.keep(person.stationId, body, id);
    return this.contacts.list(person.stationId);
  }

  @May('write to people')
  @Delete('contacts/:id')
  @HttpCode(204)
  async remove(@SignedIn() person: Person, @ContactId() id: string): Promise<void> {
    await this.contacts.remove(person.stationId, id);
  }

  @May('write to people')
  @Post('shows/:id/invitations/contacts')
  @HttpCode(200)
  async invite(@SignedIn() person: Person, @ShowId() id: string, @Body() { contactIds }: InviteContacts): Promise<ContactsInvited> {
    const { show } = await this.shows.whole(person.stationId, id);
    return this.invitations.inviteAll(show, await this.contacts.some(person.stationId, contactIds));
  }

  @May('write to people')
  @Get('mails')
  mails(@SignedIn() person: Person): Promise<OutboxView> {
    return this.outbox.view(person.stationId);
  }

  /** Tries a mail again now. */
  @May('write to people')
  @Post('mails/:id/again')
  @HttpCode(200)
  async again(@SignedIn() person: Person, @Id('There is no such mail.') id: string): Promise<OutboxView> {
    await this.outbox.again(person.stationId, id);
    return this.outbox.view(person.stationId);
  }
}

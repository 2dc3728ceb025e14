import { Module } from '@nestjs/common';
import { ForeignModule } from '../foreign/foreign.module';
import { InvitationsModule } from '../invitations/invitations.module';
import { MailModule } from '../mail/mail.module';
import { PeopleModule } from '../people/people.module';
import { ShowsModule } from '../shows/shows.module';
import { ContactsController } from './contacts.controller';
import { ContactsService } from './contacts.service';
import { OnePersonService } from './one-person.service';

@Module({
  imports: [ForeignModule, InvitationsModule, MailModule, PeopleModule, ShowsModule],
  controllers: [ContactsController],
  providers: [ContactsService, OnePersonService],
  exports: [ContactsService],
})
export class ContactsModule {}

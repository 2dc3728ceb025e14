import { Module } from '@nestjs/common';
import { ForeignModule } from '../foreign/foreign.module';
import { InvitationsModule } from '../invitations/invitations.module';
import { MailModule } from '../mail/mail.module';
import { ShowsModule } from '../shows/shows.module';
import { ContactsController } from './contacts.controller';
import { ContactsService } from './contacts.service';

@Module({
  imports: [ForeignModule, InvitationsModule, MailModule, ShowsModule],
  controllers: [ContactsController],
  providers: [ContactsService],
  exports: [ContactsService],
})
export class ContactsModule {}

import { Module } from '@nestjs/common';
import { MailModule } from '../mail/mail.module';
import { ShowsModule } from '../shows/shows.module';
import { InvitationsService } from './invitations.service';

@Module({
  imports: [MailModule, ShowsModule],
  providers: [InvitationsService],
  exports: [InvitationsService],
})
export class InvitationsModule {}

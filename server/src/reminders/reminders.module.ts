import { Module } from '@nestjs/common';
import { InvitationsModule } from '../invitations/invitations.module';
import { MailModule } from '../mail/mail.module';
import { ShowsModule } from '../shows/shows.module';
import { AskingLimits } from './asking-limits';
import { RemindersService } from './reminders.service';
import { SubscriptionsService } from './subscriptions.service';

@Module({
  imports: [InvitationsModule, MailModule, ShowsModule],
  providers: [AskingLimits, RemindersService, SubscriptionsService],
  exports: [RemindersService, SubscriptionsService],
})
export class RemindersModule {}

import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { GuestsModule } from '../guests/guests.module';
import { HouseModule } from '../house/house.module';
import { InvitationsModule } from '../invitations/invitations.module';
import { MailModule } from '../mail/mail.module';
import { RemindersModule } from '../reminders/reminders.module';
import { ShowsModule } from '../shows/shows.module';
import { ThanksController } from './thanks.controller';
import { ThanksService } from './thanks.service';

@Module({
  imports: [ChannelsModule, GuestsModule, HouseModule, InvitationsModule, MailModule, RemindersModule, ShowsModule],
  controllers: [ThanksController],
  providers: [ThanksService],
})
export class ThanksModule {}

import { Module } from '@nestjs/common';
import { ArtworkModule } from '../artwork/artwork.module';
import { ChannelsModule } from '../channels/channels.module';
import { ContactsModule } from '../contacts/contacts.module';
import { LinesModule } from '../lines/lines.module';
import { MailModule } from '../mail/mail.module';
import { PeopleModule } from '../people/people.module';
import { ScenesModule } from '../scenes/scenes.module';
import { ShowsModule } from '../shows/shows.module';
import { DoorController, GuestsController } from './guests.controller';
import { GuestsService } from './guests.service';
import { SpeakersService } from './speakers.service';

@Module({
  imports: [ArtworkModule, ChannelsModule, ContactsModule, LinesModule, MailModule, PeopleModule, ScenesModule, ShowsModule],
  controllers: [GuestsController, DoorController],
  providers: [GuestsService, SpeakersService],
  exports: [GuestsService],
})
export class GuestsModule {}

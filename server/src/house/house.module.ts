import { Module } from '@nestjs/common';
import { ArtworkModule } from '../artwork/artwork.module';
import { AirModule } from '../air/air.module';
import { ForeignModule } from '../foreign/foreign.module';
import { GuestsModule } from '../guests/guests.module';
import { InvitationsModule } from '../invitations/invitations.module';
import { PeopleModule } from '../people/people.module';
import { RecordingModule } from '../recording/recording.module';
import { RemindersModule } from '../reminders/reminders.module';
import { ShowsModule } from '../shows/shows.module';
import { AudienceController } from './audience.controller';
import { HouseStreams } from './house-streams';
import { HouseViewsService } from './house-views.service';
import { HouseController } from './house.controller';
import { PagesController } from './pages.controller';
import { TrailersService } from './trailers.service';
import { VisitorsService } from './visitors.service';

@Module({
  imports: [AirModule, ArtworkModule, ForeignModule, GuestsModule, InvitationsModule, PeopleModule, RecordingModule, RemindersModule, ShowsModule],
  controllers: [HouseController, PagesController, AudienceController],
  providers: [HouseViewsService, HouseStreams, TrailersService, VisitorsService],
  exports: [HouseViewsService],
})
export class HouseModule {}

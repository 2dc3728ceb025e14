import { Module } from '@nestjs/common';
import { ArtworkModule } from '../artwork/artwork.module';
import { AirModule } from '../air/air.module';
import { CuttingModule } from '../cutting/cutting.module';
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
import { HouseQuestionsController } from './questions.controller';
import { HousePollController } from './poll.controller';
import { HouseTalkController } from './talk.controller';
import { PlaysModule } from '../plays/plays.module';
import { PollsModule } from '../polls/polls.module';
import { MailbagModule } from '../mailbag/mailbag.module';
import { QuestionsModule } from '../questions/questions.module';
import { PagesController } from './pages.controller';
import { TrailersService } from './trailers.service';
import { VisitorsService } from './visitors.service';

@Module({
  imports: [
    AirModule,
    ArtworkModule,
    CuttingModule,
    ForeignModule,
    GuestsModule,
    InvitationsModule,
    MailbagModule,
    PeopleModule,
    PlaysModule,
    PollsModule,
    QuestionsModule,
    RecordingModule,
    RemindersModule,
    ShowsModule,
  ],
  controllers: [HouseController, HouseQuestionsController, HouseTalkController, HousePollController, PagesController, AudienceController],
  providers: [HouseViewsService, HouseStreams, TrailersService, VisitorsService],
  exports: [HouseViewsService],
})
export class HouseModule {}

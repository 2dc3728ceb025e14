import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { JobsModule } from '../jobs/jobs.module';
import { LinesModule } from '../lines/lines.module';
import { GuestsModule } from '../guests/guests.module';
import { OutsideModule } from '../outside/outside.module';
import { PeopleModule } from '../people/people.module';
import { PlacingModule } from '../placing/placing.module';
import { RecordingModule } from '../recording/recording.module';
import { ShowsModule } from '../shows/shows.module';
import { AirController, OnAirController } from './air.controller';
import { AirSamples } from './air-samples';
import { AirLink } from './air-link';
import { AirService } from './air.service';
import { ArtworkModule } from '../artwork/artwork.module';
import { ClipsModule } from '../clips/clips.module';
import { BreakCards } from './break-cards';
import { ByItself } from './by-itself';
import { MailModule } from '../mail/mail.module';
import { HappeningRows } from './happening-rows';
import { HouseAudience } from './house-audience';
import { LatenessService } from './lateness.service';
import { SignalRows } from './signal-rows';
import { StageRows } from './stage-rows';
import { UplinkController } from './uplink.controller';

@Module({
  imports: [
    ...[ArtworkModule, ChannelsModule, ClipsModule, GuestsModule, JobsModule, LinesModule, MailModule],
    ...[OutsideModule, PeopleModule, PlacingModule, RecordingModule, ShowsModule],
  ],
  controllers: [AirController, OnAirController, UplinkController],
  providers: [AirSamples, StageRows, HappeningRows, SignalRows, AirLink, BreakCards, AirService, ByItself, HouseAudience, LatenessService],
  exports: [AirLink, AirSamples, HappeningRows, SignalRows, AirService, HouseAudience],
})
export class AirModule {}

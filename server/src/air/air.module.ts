import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { JobsModule } from '../jobs/jobs.module';
import { LinesModule } from '../lines/lines.module';
import { PeopleModule } from '../people/people.module';
import { PlacingModule } from '../placing/placing.module';
import { RecordingModule } from '../recording/recording.module';
import { ShowsModule } from '../shows/shows.module';
import { AirController, OnAirController } from './air.controller';
import { AirSamples } from './air-samples';
import { AirService } from './air.service';
import { HouseAudience } from './house-audience';
import { StageRows } from './stage-rows';
import { StageGateway } from './stage-gateway';

@Module({
  imports: [ChannelsModule, JobsModule, LinesModule, PeopleModule, PlacingModule, RecordingModule, ShowsModule],
  controllers: [AirController, OnAirController],
  providers: [AirSamples, StageRows, AirService, StageGateway, HouseAudience],
  exports: [AirSamples, AirService, StageGateway, HouseAudience],
})
export class AirModule {}

import { Module } from '@nestjs/common';
import { ArtworkModule } from '../artwork/artwork.module';
import { ChannelsModule } from '../channels/channels.module';
import { JobsModule } from '../jobs/jobs.module';
import { LinesModule } from '../lines/lines.module';
import { ShowsModule } from '../shows/shows.module';
import { DriftService } from './drift.service';
import { NetworkTalk } from './network-talk';
import { PlacingController } from './placing.controller';
import { PlacingService } from './placing.service';

@Module({
  imports: [ArtworkModule, ChannelsModule, JobsModule, LinesModule, ShowsModule],
  controllers: [PlacingController],
  providers: [NetworkTalk, PlacingService, DriftService],
  exports: [PlacingService],
})
export class PlacingModule {}

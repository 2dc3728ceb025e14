import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { JobsModule } from '../jobs/jobs.module';
import { PlacingModule } from '../placing/placing.module';
import { ShowsModule } from '../shows/shows.module';
import { AllSeriesController, SeriesController } from './series.controller';
import { SeriesService } from './series.service';

@Module({
  imports: [ChannelsModule, JobsModule, PlacingModule, ShowsModule],
  controllers: [SeriesController, AllSeriesController],
  providers: [SeriesService],
  exports: [SeriesService],
})
export class SeriesModule {}

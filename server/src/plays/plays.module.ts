import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { ShowsModule } from '../shows/shows.module';
import { HouseCounts } from './house-counts';
import { PlaysService } from './plays.service';

@Module({
  imports: [ChannelsModule, ShowsModule],
  providers: [HouseCounts, PlaysService],
  exports: [HouseCounts, PlaysService],
})
export class PlaysModule {}

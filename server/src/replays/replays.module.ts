import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { CuttingModule } from '../cutting/cutting.module';
import { JobsModule } from '../jobs/jobs.module';
import { ShowsModule } from '../shows/shows.module';
import { ChannelReplaysService } from './channel-replays.service';
import { ReplaysController } from './replays.controller';

@Module({
  imports: [ChannelsModule, CuttingModule, JobsModule, ShowsModule],
  controllers: [ReplaysController],
  providers: [ChannelReplaysService],
  exports: [ChannelReplaysService],
})
export class ReplaysModule {}

import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { PeopleModule } from '../people/people.module';
import { ShowsModule } from '../shows/shows.module';
import { ChannelUsesController } from './channel-uses.controller';
import { LinesController } from './lines.controller';
import { LinesService } from './lines.service';
import { PlanService } from './plan.service';
import { RevealService } from './reveal.service';
import { UnlinkingService } from './unlinking.service';

@Module({
  imports: [ChannelsModule, PeopleModule, ShowsModule],
  controllers: [LinesController, ChannelUsesController],
  providers: [LinesService, PlanService, RevealService, UnlinkingService],
  exports: [LinesService, PlanService, RevealService],
})
export class LinesModule {}

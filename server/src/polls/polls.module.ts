import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { PeopleModule } from '../people/people.module';
import { ShowsModule } from '../shows/shows.module';
import { PollsController } from './polls.controller';
import { PollsService } from './polls.service';

@Module({
  imports: [ChannelsModule, PeopleModule, ShowsModule],
  controllers: [PollsController],
  providers: [PollsService],
  exports: [PollsService],
})
export class PollsModule {}

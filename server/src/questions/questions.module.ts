import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { GuestsModule } from '../guests/guests.module';
import { PeopleModule } from '../people/people.module';
import { ShowsModule } from '../shows/shows.module';
import { QuestionsController } from './questions.controller';
import { QuestionsService } from './questions.service';

@Module({
  imports: [ChannelsModule, GuestsModule, PeopleModule, ShowsModule],
  controllers: [QuestionsController],
  providers: [QuestionsService],
  exports: [QuestionsService],
})
export class QuestionsModule {}

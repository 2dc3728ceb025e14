import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { PeopleModule } from '../people/people.module';
import { QuestionsModule } from '../questions/questions.module';
import { ShowsModule } from '../shows/shows.module';
import { CollectorsService } from './collectors.service';
import { HouseTalkService } from './house-talk.service';
import { HouseOrderService } from './house-order.service';
import { MailbagController } from './mailbag.controller';
import { MailbagService } from './mailbag.service';
import { MessageRows } from './message-rows';

@Module({
  imports: [ChannelsModule, PeopleModule, QuestionsModule, ShowsModule],
  controllers: [MailbagController],
  providers: [MessageRows, CollectorsService, HouseOrderService, HouseTalkService, MailbagService],
  exports: [HouseTalkService],
})
export class MailbagModule {}

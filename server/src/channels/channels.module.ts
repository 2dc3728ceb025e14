import { Module } from '@nestjs/common';
import { PeopleModule } from '../people/people.module';
import { ChannelRows, LineRows } from './channel-rows';
import { ChannelAccessService } from './access.service';
import { ChannelsController } from './channels.controller';
import { ChannelsService } from './channels.service';
import { LineKeys } from './line-keys';
import { LinkingService } from './linking.service';
import { RuleBookService } from './rule-book.service';

@Module({
  imports: [PeopleModule],
  controllers: [ChannelsController],
  providers: [ChannelRows, LineRows, ChannelAccessService, RuleBookService, LineKeys, ChannelsService, LinkingService],
  exports: [ChannelRows, LineRows, ChannelAccessService, RuleBookService, LineKeys, ChannelsService, LinkingService],
})
export class ChannelsModule {}

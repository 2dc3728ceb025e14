import { Module } from '@nestjs/common';
import { MailLinks } from './mail-links';
import { OutboxService } from './outbox.service';

@Module({
  providers: [MailLinks, OutboxService],
  exports: [MailLinks, OutboxService],
})
export class MailModule {}

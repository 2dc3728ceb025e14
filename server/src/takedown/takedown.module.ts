import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { JobsModule } from '../jobs/jobs.module';
import { RecordingModule } from '../recording/recording.module';
import { ShowsModule } from '../shows/shows.module';
import { TakedownController } from './takedown.controller';
import { TakedownService } from './takedown.service';

@Module({ imports: [ChannelsModule, JobsModule, RecordingModule, ShowsModule], controllers: [TakedownController], providers: [TakedownService] })
export class TakedownModule {}

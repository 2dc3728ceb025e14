import { Module } from '@nestjs/common';
import { JobsModule } from '../jobs/jobs.module';
import { ShowsModule } from '../shows/shows.module';
import { RecordingRows } from './recording-rows';
import { RecordingService } from './recording.service';

@Module({
  imports: [JobsModule, ShowsModule],
  providers: [RecordingRows, RecordingService],
  exports: [RecordingRows, RecordingService],
})
export class RecordingModule {}

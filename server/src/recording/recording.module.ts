import { Module } from '@nestjs/common';
import { JobsModule } from '../jobs/jobs.module';
import { RecordingService } from './recording.service';

@Module({
  imports: [JobsModule],
  providers: [RecordingService],
  exports: [RecordingService],
})
export class RecordingModule {}

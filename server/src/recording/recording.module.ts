import { Module } from '@nestjs/common';
import { JobsModule } from '../jobs/jobs.module';
import { ShowsModule } from '../shows/shows.module';
import { LatePiecesController } from './late-pieces.controller';
import { LatePiecesService } from './late-pieces.service';
import { RecordingRows } from './recording-rows';
import { RecordingService } from './recording.service';

@Module({
  imports: [JobsModule, ShowsModule],
  controllers: [LatePiecesController],
  providers: [LatePiecesService, RecordingRows, RecordingService],
  exports: [RecordingRows, RecordingService],
})
export class RecordingModule {}

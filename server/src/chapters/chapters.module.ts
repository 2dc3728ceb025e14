import { Module } from '@nestjs/common';
import { AirModule } from '../air/air.module';
import { QuestionsModule } from '../questions/questions.module';
import { ShowsModule } from '../shows/shows.module';
import { RecordingModule } from '../recording/recording.module';
import { ChaptersService } from './chapters.service';

@Module({
  imports: [AirModule, QuestionsModule, RecordingModule, ShowsModule],
  providers: [ChaptersService],
  exports: [ChaptersService],
})
export class ChaptersModule {}

import { Module } from '@nestjs/common';
import { AirModule } from '../air/air.module';
import { ChaptersModule } from '../chapters/chapters.module';
import { HouseModule } from '../house/house.module';
import { PlaysModule } from '../plays/plays.module';
import { RecordingModule } from '../recording/recording.module';
import { ShowsModule } from '../shows/shows.module';
import { ComparisonService } from './comparison.service';
import { PastFiguresRows } from './past-figures';
import { ReportController } from './report.controller';
import { WatchedService } from './watched.service';

@Module({
  imports: [AirModule, ChaptersModule, HouseModule, PlaysModule, RecordingModule, ShowsModule],
  controllers: [ReportController],
  providers: [ComparisonService, PastFiguresRows, WatchedService],
  exports: [PastFiguresRows],
})
export class ReportModule {}

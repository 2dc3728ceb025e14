import { Module } from '@nestjs/common';
import { HouseModule } from '../house/house.module';
import { RecordingModule } from '../recording/recording.module';
import { ShowsModule } from '../shows/shows.module';
import { ReportController } from './report.controller';

@Module({
  imports: [HouseModule, RecordingModule, ShowsModule],
  controllers: [ReportController],
})
export class ReportModule {}

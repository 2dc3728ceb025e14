import { Module } from '@nestjs/common';
import { AirModule } from '../air/air.module';
import { ReportModule } from '../report/report.module';
import { ShowsModule } from '../shows/shows.module';
import { RetentionService } from './retention.service';

@Module({
  imports: [AirModule, ReportModule, ShowsModule],
  providers: [RetentionService],
})
export class RetentionModule {}

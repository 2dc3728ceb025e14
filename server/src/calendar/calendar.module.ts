import { Module } from '@nestjs/common';
import { ForeignModule } from '../foreign/foreign.module';
import { SeriesModule } from '../series/series.module';
import { ShowsModule } from '../shows/shows.module';
import { StationModule } from '../station/station.module';
import { CalendarController } from './calendar.controller';
import { CalendarService } from './calendar.service';

@Module({
  imports: [ForeignModule, SeriesModule, ShowsModule, StationModule],
  controllers: [CalendarController],
  providers: [CalendarService],
})
export class CalendarModule {}

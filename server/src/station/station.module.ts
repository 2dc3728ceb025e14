import { Module } from '@nestjs/common';
import { PeopleModule } from '../people/people.module';
import { RemindersModule } from '../reminders/reminders.module';
import { StationController } from './station.controller';
import { StationService } from './station.service';

@Module({
  imports: [PeopleModule, RemindersModule],
  controllers: [StationController],
  providers: [StationService],
  exports: [StationService],
})
export class StationModule {}

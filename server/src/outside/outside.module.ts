import { Module } from '@nestjs/common';
import { LinesModule } from '../lines/lines.module';
import { PeopleModule } from '../people/people.module';
import { ShowsModule } from '../shows/shows.module';
import { OutsideLinesController } from './outside-lines.controller';
import { OutsideLinesService } from './outside-lines.service';

@Module({
  imports: [LinesModule, PeopleModule, ShowsModule],
  controllers: [OutsideLinesController],
  providers: [OutsideLinesService],
  exports: [OutsideLinesService],
})
export class OutsideModule {}

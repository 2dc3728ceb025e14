import { Module } from '@nestjs/common';
import { PeopleModule } from '../people/people.module';
import { ShowsModule } from '../shows/shows.module';
import { ChangesController } from './changes.controller';
import { ChangesService } from './changes.service';

@Module({
  imports: [PeopleModule, ShowsModule],
  controllers: [ChangesController],
  providers: [ChangesService],
})
export class ChangesModule {}

import { Module } from '@nestjs/common';
import { PeopleModule } from '../people/people.module';
import { ChangesController } from './changes.controller';
import { ChangesService } from './changes.service';

@Module({
  imports: [PeopleModule],
  controllers: [ChangesController],
  providers: [ChangesService],
})
export class ChangesModule {}

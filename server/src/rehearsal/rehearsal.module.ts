import { Module } from '@nestjs/common';
import { AirModule } from '../air/air.module';
import { ShowsModule } from '../shows/shows.module';
import { RehearsalsController } from './rehearsals.controller';
import { RehearsalsService } from './rehearsals.service';

@Module({
  imports: [AirModule, ShowsModule],
  controllers: [RehearsalsController],
  providers: [RehearsalsService],
})
export class RehearsalModule {}

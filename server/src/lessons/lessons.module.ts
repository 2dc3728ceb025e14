import { Module } from '@nestjs/common';
import { ShowsModule } from '../shows/shows.module';
import { LessonsController } from './lessons.controller';
import { LessonsService } from './lessons.service';

@Module({ imports: [ShowsModule], controllers: [LessonsController], providers: [LessonsService] })
export class LessonsModule {}

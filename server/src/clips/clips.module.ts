import { Module } from '@nestjs/common';
import { ForeignModule } from '../foreign/foreign.module';
import { ShowsModule } from '../shows/shows.module';
import { ClipsController } from './clips.controller';
import { ClipsService } from './clips.service';

@Module({
  imports: [ForeignModule, ShowsModule],
  controllers: [ClipsController],
  providers: [ClipsService],
  exports: [ClipsService],
})
export class ClipsModule {}

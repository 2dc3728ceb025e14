import { Module } from '@nestjs/common';
import { ShowsModule } from '../shows/shows.module';
import { CaptionsService } from './captions.service';
import { LiveNotesController } from './live-notes.controller';
import { LiveNotesService } from './live-notes.service';

@Module({
  imports: [ShowsModule],
  controllers: [LiveNotesController],
  providers: [CaptionsService, LiveNotesService],
  exports: [CaptionsService, LiveNotesService],
})
export class CaptionsModule {}

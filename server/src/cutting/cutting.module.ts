import { Module } from '@nestjs/common';
import { AirModule } from '../air/air.module';
import { ArtworkModule } from '../artwork/artwork.module';
import { CaptionsModule } from '../captions/captions.module';
import { ChaptersModule } from '../chapters/chapters.module';
import { JobsModule } from '../jobs/jobs.module';
import { RecordingModule } from '../recording/recording.module';
import { ScenesModule } from '../scenes/scenes.module';
import { ShowsModule } from '../shows/shows.module';
import { CutTextsController } from './cut-texts.controller';
import { CutsController } from './cuts.controller';
import { CutsService } from './cuts.service';
import { OnDiskController } from './on-disk.controller';
import { RecordingsOnDiskService } from './on-disk.service';
import { ReplaysService } from './replays.service';

@Module({
  imports: [AirModule, ArtworkModule, CaptionsModule, ChaptersModule, JobsModule, RecordingModule, ScenesModule, ShowsModule],
  controllers: [CutsController, CutTextsController, OnDiskController],
  providers: [CutsService, RecordingsOnDiskService, ReplaysService],
  exports: [CutsService, ReplaysService],
})
export class CuttingModule {}

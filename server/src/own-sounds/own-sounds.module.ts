import { Module } from '@nestjs/common';
import { GuestsModule } from '../guests/guests.module';
import { JobsModule } from '../jobs/jobs.module';
import { RecordingModule } from '../recording/recording.module';
import { ShowsModule } from '../shows/shows.module';
import { OwnSoundAtTheDoorController, OwnSoundsController } from './own-sounds.controller';
import { OwnSoundsService } from './own-sounds.service';

@Module({
  imports: [GuestsModule, JobsModule, RecordingModule, ShowsModule],
  controllers: [OwnSoundAtTheDoorController, OwnSoundsController],
  providers: [OwnSoundsService],
})
export class OwnSoundsModule {}

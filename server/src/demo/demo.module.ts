import { Module } from '@nestjs/common';
import { AirModule } from '../air/air.module';
import { ArtworkModule } from '../artwork/artwork.module';
import { CaptionsModule } from '../captions/captions.module';
import { ChannelsModule } from '../channels/channels.module';
import { ClipsModule } from '../clips/clips.module';
import { ContactsModule } from '../contacts/contacts.module';
import { GuestsModule } from '../guests/guests.module';
import { LinesModule } from '../lines/lines.module';
import { PlacingModule } from '../placing/placing.module';
import { PlaysModule } from '../plays/plays.module';
import { QuestionsModule } from '../questions/questions.module';
import { RecordingModule } from '../recording/recording.module';
import { SeriesModule } from '../series/series.module';
import { ShowsModule } from '../shows/shows.module';
import { DemoStation } from './demo-station';

@Module({
  imports: [
    AirModule,
    ArtworkModule,
    CaptionsModule,
    ChannelsModule,
    ClipsModule,
    ContactsModule,
    GuestsModule,
    LinesModule,
    PlacingModule,
    PlaysModule,
    QuestionsModule,
    RecordingModule,
    SeriesModule,
    ShowsModule,
  ],
  providers: [DemoStation],
  exports: [DemoStation],
})
export class DemoModule {}

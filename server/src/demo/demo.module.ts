import { Module } from '@nestjs/common';
import { ArtworkModule } from '../artwork/artwork.module';
import { ChannelsModule } from '../channels/channels.module';
import { ClipsModule } from '../clips/clips.module';
import { ContactsModule } from '../contacts/contacts.module';
import { GuestsModule } from '../guests/guests.module';
import { LinesModule } from '../lines/lines.module';
import { PlacingModule } from '../placing/placing.module';
import { QuestionsModule } from '../questions/questions.module';
import { SeriesModule } from '../series/series.module';
import { ShowsModule } from '../shows/shows.module';
import { DemoStation } from './demo-station';

@Module({
  imports: [ArtworkModule, ChannelsModule, ClipsModule, ContactsModule, GuestsModule, LinesModule, PlacingModule, QuestionsModule, SeriesModule, ShowsModule],
  providers: [DemoStation],
  exports: [DemoStation],
})
export class DemoModule {}

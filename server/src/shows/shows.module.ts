import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { ForeignModule } from '../foreign/foreign.module';
import { PeopleModule } from '../people/people.module';
import { PicturesModule } from '../pictures/pictures.module';
import { AiringRows } from './airing-rows';
import { AiringsService } from './airings.service';
import { SeriesRows, TemplateRows } from './series-rows';
import { OthersHere } from './others-here';
import { ShowRows } from './show-rows';
import { RemovalService } from './removal.service';
import { RenditionsService } from './renditions.service';
import { RemovedController, ShowsController, TemplatesController } from './shows.controller';
import { ShowsService } from './shows.service';
import { StartingPointsService } from './starting-points.service';
import { Thumbnails } from './thumbnails';

@Module({
  imports: [ChannelsModule, ForeignModule, PeopleModule, PicturesModule],
  controllers: [ShowsController, TemplatesController, RemovedController],
  providers: [
    ShowRows,
    AiringRows,
    SeriesRows,
    TemplateRows,
    Thumbnails,
    AiringsService,
    ShowsService,
    RenditionsService,
    StartingPointsService,
    RemovalService,
    OthersHere,
  ],
  exports: [ShowRows, AiringRows, SeriesRows, TemplateRows, Thumbnails, AiringsService, ShowsService, RemovalService],
})
export class ShowsModule {}

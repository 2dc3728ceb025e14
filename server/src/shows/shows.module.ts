import { Module } from '@nestjs/common';
import { ChannelsModule } from '../channels/channels.module';
import { ForeignModule } from '../foreign/foreign.module';
import { PicturesModule } from '../pictures/pictures.module';
import { AiringsService } from './airings.service';
import { RemovalService } from './removal.service';
import { RenditionsService } from './renditions.service';
import { RemovedController, ShowsController, TemplatesController } from './shows.controller';
import { ShowsService } from './shows.service';
import { StartingPointsService } from './starting-points.service';
import { Thumbnails } from './thumbnails';

@Module({
  imports: [ChannelsModule, ForeignModule, PicturesModule],
  controllers: [ShowsController, TemplatesController, RemovedController],
  providers: [Thumbnails, AiringsService, ShowsService, RenditionsService, StartingPointsService, RemovalService],
  exports: [Thumbnails, AiringsService, ShowsService, RemovalService],
})
export class ShowsModule {}

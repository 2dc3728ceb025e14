import { Module } from '@nestjs/common';
import { ForeignModule } from '../foreign/foreign.module';
import { ShowsModule } from '../shows/shows.module';
import { ArtworkController } from './artwork.controller';
import { ComposerService } from './composer.service';
import { LookPacksService } from './look-packs.service';
import { LooksService } from './looks.service';
import { OwnPictureController } from './own-picture.controller';
import { PiecesService } from './pieces.service';

@Module({
  imports: [ForeignModule, ShowsModule],
  controllers: [ArtworkController, OwnPictureController],
  providers: [PiecesService, LooksService, ComposerService, LookPacksService],
  exports: [PiecesService, LooksService, ComposerService],
})
export class ArtworkModule {}

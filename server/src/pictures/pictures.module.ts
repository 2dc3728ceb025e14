import { Module } from '@nestjs/common';
import { PictureMeasures } from './picture-measures';

@Module({
  providers: [PictureMeasures],
  exports: [PictureMeasures],
})
export class PicturesModule {}

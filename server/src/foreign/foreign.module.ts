import { Module } from '@nestjs/common';
import { ForeignFiles } from './foreign-files';
import { ForeignFilms } from './foreign-films';

@Module({
  providers: [ForeignFiles, ForeignFilms],
  exports: [ForeignFiles, ForeignFilms],
})
export class ForeignModule {}

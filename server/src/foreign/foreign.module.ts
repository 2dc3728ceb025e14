import { Module } from '@nestjs/common';
import { ForeignFiles } from './foreign-files';

@Module({
  providers: [ForeignFiles],
  exports: [ForeignFiles],
})
export class ForeignModule {}

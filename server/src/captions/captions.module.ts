import { Module } from '@nestjs/common';
import { ShowsModule } from '../shows/shows.module';
import { CaptionsService } from './captions.service';

@Module({ imports: [ShowsModule], providers: [CaptionsService], exports: [CaptionsService] })
export class CaptionsModule {}

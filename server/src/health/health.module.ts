import { Module } from '@nestjs/common';
import { AirModule } from '../air/air.module';
import { HealthController } from './health.controller';

@Module({
  imports: [AirModule],
  controllers: [HealthController],
})
export class HealthModule {}

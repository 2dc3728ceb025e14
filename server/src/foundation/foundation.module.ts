import { Global, Module } from '@nestjs/common';
import { readSettings, SETTINGS } from './settings';
import { Bus } from './bus';
import { Clock } from './clock';
import { DiskSpace } from './disk-space';
import { Faults } from './faults';
import { Vault } from './vault';

@Global()
@Module({
  providers: [{ provide: SETTINGS, useFactory: () => readSettings() }, Clock, Bus, Vault, Faults, DiskSpace],
  exports: [SETTINGS, Clock, Bus, Vault, Faults, DiskSpace],
})
export class FoundationModule {}

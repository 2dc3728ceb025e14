import { Controller, Get } from '@nestjs/common';
import { SkipThrottle } from '@nestjs/throttler';
import { DataSource } from 'typeorm';
import { Public } from '../people/signed-in';
import { AirLink } from '../air/air-link';
import { DiskSpace } from '../foundation/disk-space';
import { PlainError } from '../foundation/errors';
import { Faults } from '../foundation/faults';

@Public()
@SkipThrottle()
@Controller('health')
export class HealthController {
  constructor(
    private readonly database: DataSource,
    private readonly faults: Faults,
    private readonly disk: DiskSpace,
    private readonly air: AirLink,
  ) {}

  /** The process answers. */
  @Get('live')
  live() {
    return { ok: true };
  }

  /** The process can do its work: its database answers too. `air`: whether the process that carries shows is there. */
  @Get('ready')
  async ready() {
    await this.database.query('SELECT 1').catch(() => {
      throw new PlainError(503, 'The database does not answer.');
    });
    return { ok: true, air: this.air.connected.value, faults: this.faults.count, room: (await this.disk.look()).state };
  }
}

// Outside lines over HTTP. A key is only ever in the reply to a request that asks for that one.
import { OutsideLineRequest, RevealRequest, type OutsideLineView, type RevealedKey } from '@lantern/contract';
import { Body, Controller, Delete, Get, Header, HttpCode, Param, Post, Put, Req } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import type { Request } from 'express';
import { Bus } from '../foundation/bus';
import { sessionToken } from '../foundation/session-cookie';
import { RevealService } from '../lines/reveal.service';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { May, SignedIn } from '../people/signed-in';
import { OutsideLinesService } from './outside-lines.service';

const FEW_REVEALS = { default: { limit: 12, ttl: 60_000 } };

@Controller('api/outside-lines')
export class OutsideLinesController {
  constructor(
    private readonly lines: OutsideLinesService,
    private readonly reveals: RevealService,
    private readonly audit: AuditService,
    private readonly bus: Bus,
  ) {}

  @May('look at the station')
  @Get()
  list(@SignedIn() person: Person): Promise<OutsideLineView[]> {
    return this.lines.list(person.stationId);
  }

  @May('change channels')
  @Post()
  add(@SignedIn() person: Person, @Body() { name }: OutsideLineRequest): Promise<OutsideLineView[]> {
    return this.lines.add(person.stationId, name);
  }

  @May('change channels')
  @Put(':id')
  rename(@SignedIn() person: Person, @Param('id') id: string, @Body() { name }: OutsideLineRequest): Promise<OutsideLineView[]> {
    return this.lines.rename(person.stationId, id, name);
  }

  @May('change channels')
  @Delete(':id')
  @HttpCode(204)
  async remove(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    await this.lines.remove(person.stationId, id);
    this.bus.tell({ kind: 'outside line closed', lineId: id });
  }

  @May('change channels')
  @Post(':id/rotate')
  @HttpCode(204)
  async rotate(@SignedIn() person: Person, @Param('id') id: string): Promise<void> {
    const { name } = await this.lines.one(person.stationId, id);
    await this.lines.rotate(person.stationId, id);
    // Whoever sends by the old key is hung up on.
    this.bus.tell({ kind: 'outside line closed', lineId: id });
    await this.audit.note(person, 'made a new key for', name);
  }

  @May('see keys')
  @Post(':id/reveal')
  @HttpCode(200)
  @Header('cache-control', 'no-store')
  @Throttle(FEW_REVEALS)
  async reveal(@SignedIn() person: Person, @Param('id') id: string, @Body() { purpose }: RevealRequest, @Req() request: Request): Promise<RevealedKey> {
    await this.reveals.demandRight(person, sessionToken(request)!);
    const line = await this.lines.one(person.stationId, id);
    const key = this.lines.key(line);
    await this.reveals.noteSeen(person, purpose, 'the key of', line.name);
    return { key };
  }
}

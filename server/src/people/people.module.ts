import { Module } from '@nestjs/common';
import { AuditService } from './audit.service';
import { BrowserSessions } from './browser-sessions';
import { PeopleController } from './people.controller';
import { Stations } from './stations';
import { PeopleService } from './people.service';

@Module({
  controllers: [PeopleController],
  providers: [Stations, PeopleService, AuditService, BrowserSessions],
  exports: [Stations, PeopleService, AuditService, BrowserSessions],
})
export class PeopleModule {}

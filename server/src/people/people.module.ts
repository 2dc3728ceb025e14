import { Module } from '@nestjs/common';
import { AuditService } from './audit.service';
import { PeopleController } from './people.controller';
import { Stations } from './stations';
import { PeopleService } from './people.service';

@Module({
  controllers: [PeopleController],
  providers: [Stations, PeopleService, AuditService],
  exports: [Stations, PeopleService, AuditService],
})
export class PeopleModule {}

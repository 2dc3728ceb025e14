import { Module } from '@nestjs/common';
import { AuditService } from './audit.service';
import { PeopleController } from './people.controller';
import { PeopleService } from './people.service';

@Module({
  controllers: [PeopleController],
  providers: [PeopleService, AuditService],
  exports: [PeopleService, AuditService],
})
export class PeopleModule {}

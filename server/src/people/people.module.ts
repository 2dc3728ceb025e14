import { Module } from '@nestjs/common';
import { AuditService } from './audit.service';
import { BrowserSessions } from './browser-sessions';
import { PeopleController } from './people.controller';
import { MailModule } from '../mail/mail.module';
import { SecondFactor } from './second-factor.service';
import { StagesOnAir } from './stages-on-air';
import { Stations } from './stations';
import { TeamController } from './team.controller';
import { TeamService } from './team.service';
import { PeopleService } from './people.service';

@Module({
  imports: [MailModule],
  controllers: [PeopleController, TeamController],
  providers: [Stations, PeopleService, AuditService, BrowserSessions, SecondFactor, StagesOnAir, TeamService],
  exports: [Stations, PeopleService, AuditService, StagesOnAir],
})
export class PeopleModule {}

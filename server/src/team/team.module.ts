import { Module } from '@nestjs/common';
import { MailModule } from '../mail/mail.module';
import { PeopleModule } from '../people/people.module';
import { TeamController } from './team.controller';
import { TeamService } from './team.service';

@Module({
  imports: [MailModule, PeopleModule],
  controllers: [TeamController],
  providers: [TeamService],
})
export class TeamModule {}

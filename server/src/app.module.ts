import { Module, ValidationPipe } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, APP_PIPE } from '@nestjs/core';
import { ThrottlerModule } from '@nestjs/throttler';
import { DatabaseModule } from './database/database.module';
import { VisitorThrottlerGuard } from './doors/throttle.guard';
import { ErrorFilter, FieldError } from './foundation/errors';
import { SignedInGuard } from './people/signed-in';
import { AirModule } from './air/air.module';
import { AnnouncementsModule } from './announcements/announcements.module';
import { ArtworkModule } from './artwork/artwork.module';
import { CalendarModule } from './calendar/calendar.module';
import { ChangesModule } from './changes/changes.module';
import { ChannelsModule } from './channels/channels.module';
import { ClipsModule } from './clips/clips.module';
import { ContactsModule } from './contacts/contacts.module';
import { DemoModule } from './demo/demo.module';
import { ForeignModule } from './foreign/foreign.module';
import { FoundationModule } from './foundation/foundation.module';
import { GuestsModule } from './guests/guests.module';
import { OwnSoundsModule } from './own-sounds/own-sounds.module';
import { MailbagModule } from './mailbag/mailbag.module';
import { PollsModule } from './polls/polls.module';
import { QuestionsModule } from './questions/questions.module';
import { HealthModule } from './health/health.module';
import { HouseModule } from './house/house.module';
import { InvitationsModule } from './invitations/invitations.module';
import { JobsModule } from './jobs/jobs.module';
import { LinesModule } from './lines/lines.module';
import { MailModule } from './mail/mail.module';
import { OutsideModule } from './outside/outside.module';
import { PeopleModule } from './people/people.module';
import { PicturesModule } from './pictures/pictures.module';
import { PlacingModule } from './placing/placing.module';
import { RecordingModule } from './recording/recording.module';
import { RehearsalModule } from './rehearsal/rehearsal.module';
import { RemindersModule } from './reminders/reminders.module';
import { CaptionsModule } from './captions/captions.module';
import { CuttingModule } from './cutting/cutting.module';
import { LessonsModule } from './lessons/lessons.module';
import { ReportModule } from './report/report.module';
import { ReplaysModule } from './replays/replays.module';
import { TakedownModule } from './takedown/takedown.module';
import { ThanksModule } from './thanks/thanks.module';
import { RetentionModule } from './retention/retention.module';
import { ScenesModule } from './scenes/scenes.module';
import { SeriesModule } from './series/series.module';
import { ShowsModule } from './shows/shows.module';
import { StationModule } from './station/station.module';

/** One module for each part of the job; each says what it stands on and what it offers. */
@Module({
  imports: [
    ThrottlerModule.forRoot([{ ttl: 60_000, limit: 600 }]),
    DatabaseModule,
    AirModule,
    AnnouncementsModule,
    ArtworkModule,
    CalendarModule,
    ChangesModule,
    ChannelsModule,
    ClipsModule,
    ContactsModule,
    DemoModule,
    ForeignModule,
    FoundationModule,
    GuestsModule,
    OwnSoundsModule,
    MailbagModule,
    PollsModule,
    QuestionsModule,
    HealthModule,
    HouseModule,
    InvitationsModule,
    JobsModule,
    LinesModule,
    MailModule,
    OutsideModule,
    PeopleModule,
    PicturesModule,
    PlacingModule,
    RecordingModule,
    RehearsalModule,
    RemindersModule,
    CaptionsModule,
    CuttingModule,
    LessonsModule,
    ReplaysModule,
    ReportModule,
    RetentionModule,
    ScenesModule,
    SeriesModule,
    ShowsModule,
    StationModule,
    TakedownModule,
    ThanksModule,
  ],
  providers: [
    { provide: APP_GUARD, useClass: VisitorThrottlerGuard },
    { provide: APP_GUARD, useClass: SignedInGuard },
    { provide: APP_FILTER, useClass: ErrorFilter },
    {
      provide: APP_PIPE,
      useValue: new ValidationPipe({ whitelist: true, forbidUnknownValues: true, exceptionFactory: (errors) => new FieldError(errors) }),
    },
  ],
})
export class AppModule {}

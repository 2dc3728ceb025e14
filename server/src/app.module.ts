import { Module } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, APP_PIPE } from '@nestjs/core';
import { ValidationPipe } from '@nestjs/common';
import { ThrottlerModule } from '@nestjs/throttler';
import { DataSource } from 'typeorm';
import { ChangesController } from './changes/changes.controller';
import { ChangesService } from './changes/changes.service';
import { Bus } from './foundation/bus';
import { AirController, OnAirController } from './air/air.controller';
import { AirService } from './air/air.service';
import { StageGateway } from './air/stage-gateway';
import { StagesOnAir } from './lines/stages-on-air';
import { AnnouncementsController } from './announcements/announcements.controller';
import { AnnouncementsService } from './announcements/announcements.service';
import { ArtworkController } from './artwork/artwork.controller';
import { ComposerService } from './artwork/composer.service';
import { PictureMeasures } from './pictures/picture-measures';
import { PiecesService } from './artwork/pieces.service';
import { ChannelAccessService } from './channels/access.service';
import { ChannelsController } from './channels/channels.controller';
import { ChannelsService } from './channels/channels.service';
import { LinkingService } from './channels/linking.service';
import { RuleBookService } from './channels/rule-book.service';
import { ContactsController } from './contacts/contacts.controller';
import { ContactsService } from './contacts/contacts.service';
import { VisitorThrottlerGuard } from './doors/throttle.guard';
import { DemoStation } from './demo/demo-station';
import { Clock } from './foundation/clock';
import { openDatabase } from './database/database';
import { ForeignFiles } from './foreign/foreign-files';
import { ErrorFilter, FieldError } from './foundation/errors';
import { DiskSpace } from './foundation/disk-space';
import { Faults } from './foundation/faults';
import { HealthController } from './health/health.controller';
import { readSettings, SETTINGS } from './foundation/settings';
import { Vault } from './foundation/vault';
import { AudienceController } from './house/audience.controller';
import { HouseController } from './house/house.controller';
import { HouseAudience } from './air/house-audience';
import { HouseStreams } from './house/house-streams';
import { HouseViewsService } from './house/house-views.service';
import { PagesController } from './house/pages.controller';
import { TrailersService } from './house/trailers.service';
import { VisitorsService } from './house/visitors.service';
import { JobsController } from './jobs/jobs.controller';
import { JobsService } from './jobs/jobs.service';
import { InvitationsService } from './invitations/invitations.service';
import { LineKeys } from './channels/line-keys';
import { ChannelUsesController } from './lines/channel-uses.controller';
import { LinesController } from './lines/lines.controller';
import { UnlinkingService } from './lines/unlinking.service';
import { PlacingController } from './placing/placing.controller';
import { LinesService } from './lines/lines.service';
import { PlanService } from './lines/plan.service';
import { RevealService } from './lines/reveal.service';
import { CalendarController } from './calendar/calendar.controller';
import { CalendarService } from './calendar/calendar.service';
import { AuditService } from './people/audit.service';
import { PeopleController } from './people/people.controller';
import { PeopleService } from './people/people.service';
import { SignedInGuard } from './people/signed-in';
import { RecordingService } from './recording/recording.service';
import { AskingLimits } from './reminders/asking-limits';
import { MailLinks } from './reminders/mail-links';
import { OutboxService } from './mail/outbox.service';
import { RemindersService } from './reminders/reminders.service';
import { SubscriptionsService } from './reminders/subscriptions.service';
import { RetentionService } from './retention/retention.service';
import { ReportController } from './report/report.controller';
import { AllSeriesController, SeriesController } from './series/series.controller';
import { SeriesService } from './series/series.service';
import { AiringsService } from './shows/airings.service';
import { DriftService } from './placing/drift.service';
import { NetworkTalk } from './placing/network-talk';
import { PlacingService } from './placing/placing.service';
import { RenditionsService } from './shows/renditions.service';
import { RemovedController, ShowsController, TemplatesController } from './shows/shows.controller';
import { ShowsService } from './shows/shows.service';
import { StartingPointsService } from './shows/starting-points.service';
import { StationController } from './station/station.controller';
import { StationService } from './station/station.service';
import { RemovalService } from './shows/removal.service';
import { Thumbnails } from './shows/thumbnails';

@Module({
  imports: [ThrottlerModule.forRoot([{ ttl: 60_000, limit: 600 }])],
  controllers: [
    HealthController,
    PeopleController,
    ChannelsController,
    LinesController,
    ChannelUsesController,
    ShowsController,
    PlacingController,
    TemplatesController,
    RemovedController,
    SeriesController,
    AllSeriesController,
    StationController,
    CalendarController,
    AirController,
    OnAirController,
    ReportController,
    HouseController,
    PagesController,
    AudienceController,
    ArtworkController,
    ContactsController,
    AnnouncementsController,
    JobsController,
    ChangesController,
  ],
  providers: [
    { provide: SETTINGS, useFactory: () => readSettings() },
    { provide: DataSource, inject: [SETTINGS], useFactory: openDatabase },
    { provide: APP_GUARD, useClass: VisitorThrottlerGuard },
    { provide: APP_GUARD, useClass: SignedInGuard },
    { provide: APP_FILTER, useClass: ErrorFilter },
    {
      provide: APP_PIPE,
      useValue: new ValidationPipe({ whitelist: true, forbidUnknownValues: true, exceptionFactory: (errors) => new FieldError(errors) }),
    },
    Clock,
    Bus,
    ChangesService,
    JobsService,
    NetworkTalk,
    Vault,
    Faults,
    DiskSpace,
    ForeignFiles,
    PeopleService,
    AuditService,
    ChannelAccessService,
    RuleBookService,
    LineKeys,
    ChannelsService,
    LinkingService,
    LinesService,
    PlanService,
    RevealService,
    UnlinkingService,
    PictureMeasures,
    Thumbnails,
    AiringsService,
    ShowsService,
    RenditionsService,
    StartingPointsService,
    RemovalService,
    PiecesService,
    ComposerService,
    PlacingService,
    DriftService,
    SeriesService,
    StationService,
    CalendarService,
    RecordingService,
    RetentionService,
    AirService,
    StagesOnAir,
    StageGateway,
    OutboxService,
    MailLinks,
    AskingLimits,
    RemindersService,
    SubscriptionsService,
    InvitationsService,
    ContactsService,
    HouseViewsService,
    HouseAudience,
    HouseStreams,
    TrailersService,
    AnnouncementsService,
    VisitorsService,
    DemoStation,
  ],
})
export class AppModule {}

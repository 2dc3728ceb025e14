import { Module } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { openDatabase } from './kit/database';
import { Events } from './kit/events';
import { Posts } from './kit/posts';
import { Faults } from './kit/faults';
import { HealthController } from './kit/health.controller';
import { Ingest } from './kit/ingest';
import { LimitBook } from './kit/limits';
import { OAuthController } from './kit/oauth.controller';
import { OperatorController } from './kit/operator.controller';
import { Playback } from './kit/playback';
import { readSettings, SETTINGS, type Settings } from './kit/settings';
import { Visits } from './kit/visits';
import { WatchController } from './kit/watch.controller';
import { GuildhandController } from './guildhand/guildhand.controller';
import { PipwireController } from './pipwire/pipwire.controller';
import { ReelmoorController } from './reelmoor/reelmoor.controller';
import { seed } from './seed';
import { TownfoldController } from './townfold/townfold.controller';

@Module({
  controllers: [
    HealthController,
    OperatorController,
    ReelmoorController,
    TownfoldController,
    GuildhandController,
    PipwireController,
    OAuthController,
    WatchController,
  ],
  providers: [
    { provide: SETTINGS, useFactory: () => readSettings() },
    {
      provide: DataSource,
      inject: [SETTINGS],
      useFactory: async (settings: Settings) => {
        const database = await openDatabase(settings);
        await seed(database, settings.demo);
        return database;
      },
    },
    Faults,
    Visits,
    LimitBook,
    Ingest,
    Playback,
    Events,
    Posts,
  ],
})
export class AppModule {}

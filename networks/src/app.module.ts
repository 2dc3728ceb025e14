import { Module } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { openDatabase } from './kit/database';
import { Events } from './kit/events';
import { Films } from './kit/films';
import { Messages } from './kit/messages';
import { Posts } from './kit/posts';
import { Shares } from './kit/shares';
import { ReplyFeed } from './pipwire/reply-feed';
import { Faults } from './kit/faults';
import { HealthController } from './kit/health.controller';
import { Ingest } from './kit/ingest';
import { LimitBook } from './kit/limits';
import { OAuthController } from './kit/oauth.controller';
import { OperatorController } from './kit/operator.controller';
import { Playback } from './kit/playback';
import { readSettings, SETTINGS, type Settings } from './kit/settings';
import { Plays } from './kit/plays';
import { Visits } from './kit/visits';
import { WatchController } from './kit/watch.controller';
import { GuildhandController } from './guildhand/guildhand.controller';
import { Speakers } from './guildhand/speakers';
import { SpeakingController } from './guildhand/speaking.controller';
import { GuildhandCommentsController } from './guildhand/comments.controller';
import { PipwireController } from './pipwire/pipwire.controller';
import { PipwireRepliesController } from './pipwire/replies.controller';
import { ReelmoorFilmsController } from './reelmoor/films.controller';
import { ReelmoorController } from './reelmoor/reelmoor.controller';
import { ReelmoorMessagesController } from './reelmoor/messages.controller';
import { seed } from './seed';
import { TownfoldController } from './townfold/townfold.controller';
import { TownfoldTalkController } from './townfold/talk.controller';

@Module({
  controllers: [
    HealthController,
    OperatorController,
    ReelmoorController,
    TownfoldController,
    GuildhandController,
    SpeakingController,
    PipwireController,
    ReelmoorMessagesController,
    ReelmoorFilmsController,
    TownfoldTalkController,
    GuildhandCommentsController,
    PipwireRepliesController,
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
        await seed(database);
        return database;
      },
    },
    Faults,
    Visits,
    Plays,
    Films,
    LimitBook,
    Ingest,
    Playback,
    Events,
    Messages,
    ReplyFeed,
    Speakers,
    Posts,
    Shares,
  ],
})
export class AppModule {}

// The stand-ins' own SQLite file.
import { join } from 'node:path';
import { DataSource, type MigrationInterface, type QueryRunner } from 'typeorm';
import { Account, EventRow, FilmRow, Grant, LimitChange, Line, Login, MessageRow, MutedRow, PlayRow, PostRow, ShareRow, SpeakerRow } from './entities';
import type { Settings } from './settings';

class Beginning1764000000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const statement of [
      `CREATE TABLE logins (id text PRIMARY KEY, network text NOT NULL, name text NOT NULL, passwordHash text NOT NULL)`,
      `CREATE TABLE accounts (id text PRIMARY KEY, network text NOT NULL, loginId text NOT NULL REFERENCES logins(id), kind text NOT NULL,
        name text NOT NULL, monogram text NOT NULL, hue integer NOT NULL, followers integer NOT NULL, phoneVerified boolean NOT NULL, askedAt integer,
        role text NOT NULL, groupAllows boolean NOT NULL, openedAt integer NOT NULL, connections integer NOT NULL, membersKey text NOT NULL)`,
      `CREATE TABLE grants (id text PRIMARY KEY, network text NOT NULL, loginId text NOT NULL REFERENCES logins(id), codeHash text,
        codeChallenge text, redirectUri text, accessHash text, refreshHash text, expiresAt integer NOT NULL)`,
      `CREATE INDEX grants_access ON grants (accessHash)`,
      `CREATE INDEX grants_refresh ON grants (refreshHash)`,
      `CREATE TABLE lines (id text PRIMARY KEY, network text NOT NULL, accountId text NOT NULL REFERENCES accounts(id), label text NOT NULL,
        "key" text NOT NULL UNIQUE, lasting boolean NOT NULL)`,
      `CREATE TABLE events (id text PRIMARY KEY, network text NOT NULL, accountId text NOT NULL REFERENCES accounts(id), idempotencyKey text,
        title text NOT NULL, text text NOT NULL, startsAt integer NOT NULL, lengthMs integer NOT NULL, visibility text NOT NULL, state text NOT NULL,
        lineId text NOT NULL REFERENCES lines(id), beginsBy text NOT NULL, delaySeconds integer NOT NULL, rewindHours integer NOT NULL, replay boolean NOT NULL, facts text NOT NULL,
        invitedKey text NOT NULL, thumbnailType text, thumbnailWords text NOT NULL, publicAt integer, endedAt integer)`,
      `CREATE UNIQUE INDEX events_once ON events (accountId, idempotencyKey)`,
      `CREATE TABLE limit_changes (id text PRIMARY KEY, network text NOT NULL, limitName text NOT NULL, value integer NOT NULL,
        inForceFrom integer NOT NULL, announced boolean NOT NULL)`,
    ]) {
      await query.query(statement);
    }
  }
  async down(query: QueryRunner): Promise<void> {
    for (const table of ['limit_changes', 'events', 'lines', 'grants', 'accounts', 'logins']) await query.query(`DROP TABLE ${table}`);
  }
}

class Posts1764500000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE posts (id text PRIMARY KEY, network text NOT NULL, accountId text NOT NULL REFERENCES accounts(id), idempotencyKey text,
      text text NOT NULL, postedAt integer NOT NULL)`);
    await query.query(`CREATE UNIQUE INDEX posts_once ON posts (accountId, idempotencyKey)`);
  }
  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE posts`);
  }
}

class Speakers1766700000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE speakers (id text PRIMARY KEY, eventId text NOT NULL REFERENCES events(id) ON DELETE CASCADE, reference text NOT NULL, name text NOT NULL,
      about text NOT NULL, place integer NOT NULL, answer text NOT NULL, secret text NOT NULL UNIQUE)`);
    await query.query(`CREATE INDEX speakers_of ON speakers (eventId)`);
  }
  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE speakers`);
  }
}

class Messages1766800000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE messages (place integer PRIMARY KEY AUTOINCREMENT, id text NOT NULL UNIQUE, eventId text NOT NULL REFERENCES events(id) ON DELETE CASCADE,
      writerId text, writer text NOT NULL, standing text NOT NULL, text text NOT NULL, answers text, writtenAt integer NOT NULL, hidden boolean NOT NULL, idempotencyKey text)`);
    await query.query(`CREATE UNIQUE INDEX messages_once ON messages (eventId, idempotencyKey)`);
    await query.query(`CREATE INDEX messages_of ON messages (eventId, place)`);
  }
  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE messages`);
  }
}

class Chosen1766900000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`ALTER TABLE events ADD COLUMN chosen text NOT NULL DEFAULT '{}'`);
    await query.query(`CREATE TABLE shares (eventId text NOT NULL REFERENCES events(id) ON DELETE CASCADE, accountId text NOT NULL REFERENCES accounts(id),
      answer text NOT NULL, PRIMARY KEY (eventId, accountId))`);
    await query.query(`CREATE TABLE muted (eventId text NOT NULL REFERENCES events(id) ON DELETE CASCADE, writerId text NOT NULL, mutedUntil integer,
      PRIMARY KEY (eventId, writerId))`);
  }
  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE shares`);
    await query.query(`DROP TABLE muted`);
    await query.query(`ALTER TABLE events DROP COLUMN chosen`);
  }
}

class Films1767800000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE films (id text PRIMARY KEY, eventId text NOT NULL REFERENCES events(id) ON DELETE CASCADE, idempotencyKey text, bytes integer NOT NULL,
      state text NOT NULL, words text NOT NULL, shown boolean NOT NULL, language text NOT NULL, captions text NOT NULL)`);
    await query.query(`CREATE UNIQUE INDEX films_once ON films (eventId, idempotencyKey)`);
  }
  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE films`);
  }
}

class Plays1768300000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    await query.query(`CREATE TABLE plays (eventId text NOT NULL REFERENCES events(id) ON DELETE CASCADE, viewer text NOT NULL, since boolean NOT NULL,
      PRIMARY KEY (eventId, viewer, since))`);
  }
  async down(query: QueryRunner): Promise<void> {
    await query.query(`DROP TABLE plays`);
  }
}

export async function openDatabase(settings: Settings): Promise<DataSource> {
  const source = new DataSource({
    type: 'better-sqlite3',
    database: join(settings.dataDir, 'networks.sqlite'),
    entities: [Login, Account, Grant, Line, EventRow, FilmRow, LimitChange, PostRow, SpeakerRow, MessageRow, MutedRow, PlayRow, ShareRow],
    migrations: [
      Beginning1764000000000,
      Posts1764500000000,
      Speakers1766700000000,
      Messages1766800000000,
      Chosen1766900000000,
      Films1767800000000,
      Plays1768300000000,
    ],
    migrationsRun: true,
    enableWAL: true,
  });
  await source.initialize();
  return source;
}

import type { MigrationInterface, QueryRunner } from 'typeorm';

const UP = [
  `CREATE TABLE stations (id text PRIMARY KEY, name text NOT NULL, zone text NOT NULL)`,
  `CREATE TABLE people (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), name text NOT NULL,
    email text NOT NULL UNIQUE, passwordHash text NOT NULL, role text NOT NULL)`,
  `CREATE TABLE sessions (tokenHash text PRIMARY KEY, personId text NOT NULL REFERENCES people(id) ON DELETE CASCADE, expiresAt integer NOT NULL,
    passwordAt integer NOT NULL)`,
  `CREATE TABLE audit_entries (id integer PRIMARY KEY AUTOINCREMENT, stationId text NOT NULL REFERENCES stations(id), personId text NOT NULL,
    at integer NOT NULL, did text NOT NULL, what text NOT NULL)`,
  `CREATE TABLE channels (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), network text NOT NULL, kind text NOT NULL,
    name text NOT NULL, pictureUrl text, remoteId text, sealed text NOT NULL, watchUrl text, access text NOT NULL,
    defaults text NOT NULL, limits text, conditions text NOT NULL, conditionsAt integer)`,
  `CREATE UNIQUE INDEX channels_once ON channels (stationId, network, remoteId) WHERE remoteId IS NOT NULL`,
  `CREATE TABLE pending_links (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), personId text NOT NULL REFERENCES people(id) ON DELETE CASCADE,
    network text NOT NULL, sealed text NOT NULL, granted boolean NOT NULL, expiresAt integer NOT NULL)`,
  `CREATE TABLE rule_notices (network text NOT NULL, id text NOT NULL, limitName text NOT NULL, value integer NOT NULL, inForceFrom integer NOT NULL,
    PRIMARY KEY (network, id))`,
  `CREATE TABLE shows (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), slug text NOT NULL UNIQUE, title text NOT NULL,
    description text NOT NULL, startsAt integer NOT NULL, zone text NOT NULL, lengthMs integer NOT NULL, state text NOT NULL,
    thumbnail text, thumbnailAlternative text NOT NULL, pictureFrom text NOT NULL, onAirSince integer, endedAt integer, programme text NOT NULL, recording text NOT NULL, recordingMs integer NOT NULL)`,
  `CREATE INDEX shows_by_time ON shows (stationId, startsAt)`,
  `CREATE TABLE airings (id text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, channelId text NOT NULL REFERENCES channels(id),
    placing text NOT NULL, placedAt integer, visibility text NOT NULL, lineId text, remoteId text, watchUrl text, refusal text NOT NULL, endWords text NOT NULL)`,
  `CREATE UNIQUE INDEX airings_once ON airings (showId, channelId)`,
  `CREATE INDEX airings_by_channel ON airings (channelId)`,
  `CREATE TABLE lines (id text PRIMARY KEY, channelId text NOT NULL REFERENCES channels(id), name text NOT NULL, remoteId text,
    airingId text REFERENCES airings(id) ON DELETE CASCADE, address text, backupAddress text, sealed text, heldBy text NOT NULL, lastUsedAt integer,
    createdAt integer NOT NULL)`,
  `CREATE INDEX lines_by_channel ON lines (channelId)`,
  `CREATE TABLE air_samples (id integer PRIMARY KEY AUTOINCREMENT, airingId text NOT NULL REFERENCES airings(id) ON DELETE CASCADE,
    at integer NOT NULL, lamp text NOT NULL, watching integer)`,
  `CREATE INDEX air_samples_by_time ON air_samples (airingId, at)`,
];

export class Beginning1764000000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const statement of UP) await query.query(statement);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of [
      'air_samples',
      'lines',
      'airings',
      'shows',
      'rule_notices',
      'pending_links',
      'channels',
      'audit_entries',
      'sessions',
      'people',
      'stations',
    ]) {
      await query.query(`DROP TABLE ${table}`);
    }
  }
}

import type { MigrationInterface, QueryRunner } from 'typeorm';

const UP = [
  `CREATE TABLE stations (id text PRIMARY KEY, name text NOT NULL, zone text NOT NULL)`,
  `CREATE TABLE people (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), name text NOT NULL,
    email text NOT NULL UNIQUE, passwordHash text NOT NULL, role text NOT NULL)`,
  `CREATE TABLE sessions (tokenHash text PRIMARY KEY, personId text NOT NULL REFERENCES people(id) ON DELETE CASCADE, expiresAt integer NOT NULL)`,
  `CREATE TABLE channels (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), network text NOT NULL, kind text NOT NULL,
    name text NOT NULL, pictureUrl text, remoteId text, sealed text NOT NULL, watchUrl text, linked boolean NOT NULL)`,
  `CREATE UNIQUE INDEX channels_once ON channels (stationId, network, remoteId) WHERE remoteId IS NOT NULL`,
  `CREATE TABLE pending_links (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), personId text NOT NULL REFERENCES people(id) ON DELETE CASCADE,
    network text NOT NULL, sealed text NOT NULL, granted boolean NOT NULL, expiresAt integer NOT NULL)`,
  `CREATE TABLE shows (id text PRIMARY KEY, stationId text NOT NULL REFERENCES stations(id), slug text NOT NULL UNIQUE, title text NOT NULL,
    description text NOT NULL, startsAt integer NOT NULL, zone text NOT NULL, lengthMs integer NOT NULL, state text NOT NULL,
    thumbnail text, onAirSince integer, endedAt integer, programme text NOT NULL, recording text NOT NULL, recordingMs integer NOT NULL)`,
  `CREATE INDEX shows_by_time ON shows (stationId, startsAt)`,
  `CREATE TABLE airings (id text PRIMARY KEY, showId text NOT NULL REFERENCES shows(id) ON DELETE CASCADE, channelId text NOT NULL REFERENCES channels(id),
    placing text NOT NULL, remoteId text, watchUrl text, refusal text NOT NULL, endWords text NOT NULL)`,
  `CREATE UNIQUE INDEX airings_once ON airings (showId, channelId)`,
  `CREATE TABLE air_samples (id integer PRIMARY KEY AUTOINCREMENT, airingId text NOT NULL REFERENCES airings(id) ON DELETE CASCADE,
    at integer NOT NULL, lamp text NOT NULL, watching integer)`,
  `CREATE INDEX air_samples_by_time ON air_samples (airingId, at)`,
];

export class Beginning1764000000000 implements MigrationInterface {
  async up(query: QueryRunner): Promise<void> {
    for (const statement of UP) await query.query(statement);
  }

  async down(query: QueryRunner): Promise<void> {
    for (const table of ['air_samples', 'airings', 'shows', 'pending_links', 'channels', 'sessions', 'people', 'stations']) {
      await query.query(`DROP TABLE ${table}`);
    }
  }
}

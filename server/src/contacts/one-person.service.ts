// What is kept of one person, found by their mail address: told to whoever has to give it out, and removed where they ask for that.
import type { KeptPart, PersonKept } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource, type EntityManager } from 'typeorm';
import { SETTINGS, type Settings } from '../foundation/settings';
import { together } from '../foundation/together';
import { namesOf } from '../media/own-sound-files';
import { recordingFolder } from '../media/stretch';

interface Kind {
  what: KeptPart['what'];
  table: string;
  /** Of the person's rows; the parameters are the station and the address. */
  where: string;
  /** What is given out of a row. Nothing of what lets somebody in. */
  columns: string;
  /** Of those, which stay, and why. */
  stays?: { where: string; words: string };
}

const OF_SHOWS = 'showId IN (SELECT id FROM shows WHERE stationId = ?) AND LOWER(email) = ?';
const SHOW = '(SELECT title FROM shows WHERE id = showId) AS show, (SELECT startsAt FROM shows WHERE id = showId) AS showStartsAt';

const KINDS: readonly Kind[] = [
  { what: 'contact', table: 'contacts', where: 'stationId = ? AND LOWER(email) = ?', columns: 'name, email, groups, caption, zone' },
  { what: 'invitations', table: 'invitations', where: OF_SHOWS, columns: `name, email, answer, invitedAt, cameAt, ${SHOW}` },
  { what: 'reminders', table: 'registrations', where: OF_SHOWS, columns: `email, zone, askedAt, confirmedAt, ${SHOW}` },
  { what: 'news', table: 'subscriptions', where: 'stationId = ? AND LOWER(email) = ?', columns: 'email, zone, askedAt, confirmedAt' },
  {
    what: 'guest',
    table: 'guests',
    where: 'stationId = ? AND LOWER(email) = ?',
    columns: `name, caption, email, zone, answer, word, invitedAt, ownSound, ${SHOW}`,
    stays: {
      where: `showId IN (SELECT id FROM shows WHERE state IN ('draft', 'placed', 'onAir', 'interrupted'))`,
      words: 'A show that is still to come counts on them. Take them out on its sheet, then remove this.',
    },
  },
  { what: 'mails', table: 'mails', where: 'stationId = ? AND LOWER(recipient) = ?', columns: 'recipient, subject, dueAt, sentAt' },
];

@Injectable()
export class OnePersonService {
  constructor(
    private readonly database: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** All that has their address. */
  async of(stationId: string, email: string): Promise<PersonKept> {
    const address = email.trim().toLowerCase();
    const parts: KeptPart[] = [];
    for (const { what, table, where, columns, stays } of KINDS) {
      const rows = (await this.database.query(`SELECT ${columns} FROM ${table} WHERE ${where} ORDER BY rowid`, [stationId, address])) as Record<
        string,
        unknown
      >[];
      const staying = stays ? await this.count(table, `${where} AND ${stays.where}`, [stationId, address]) : 0;
      if (rows.length) parts.push({ what, rows: rows.map(readable), stays: staying ? stays!.words : '' });
    }
    return { email: address, parts };
  }

  /** Removes it, but for what a show to come stands on; answers with what is left, as it is read back. */
  async remove(stationId: string, email: string): Promise<PersonKept> {
    const address = email.trim().toLowerCase();
    const mails = (await this.database.query('SELECT id FROM mails WHERE stationId = ? AND LOWER(recipient) = ?', [stationId, address])) as { id: string }[];
    // Files first: a server that is killed in between still knows which they were.
    await this.removeFiles(mails.map(({ id }) => id));
    const sounds = await this.guestsThatGo([stationId, address]);
    await this.removeSounds(sounds);
    await together(this.database, async (entities) => {
      for (const kind of KINDS) await this.removeKind(entities, kind, [stationId, address]);
    });
    // What still came in between had been agreed to; now nothing of it is taken any more.
    await this.removeSounds(sounds);
    return this.of(stationId, address);
  }

  private async removeKind(entities: EntityManager, { table, where, stays }: Kind, parameters: [string, string]): Promise<void> {
    const which = stays ? `${where} AND NOT (${stays.where})` : where;
    if (table === 'guests') await entities.query(`UPDATE questions SET guestId = NULL WHERE guestId IN (SELECT id FROM guests WHERE ${which})`, parameters);
    await entities.query(`DELETE FROM ${table} WHERE ${which}`, parameters);
  }

  private async count(table: string, where: string, parameters: [string, string]): Promise<number> {
    const [{ count }] = (await this.database.query(`SELECT COUNT(*) AS count FROM ${table} WHERE ${where}`, parameters)) as [{ count: number }];
    return count;
  }

  private async guestsThatGo(parameters: [string, string]): Promise<{ id: string; showId: string }[]> {
    const { table, where, stays } = KINDS.find(({ what }) => what === 'guest')!;
    return (await this.database.query(`SELECT id, showId FROM ${table} WHERE ${where} AND NOT (${stays!.where})`, parameters)) as {
      id: string;
      showId: string;
    }[];
  }

  /** Their own sounds, of shows in which they were. */
  private async removeSounds(guests: readonly { id: string; showId: string }[]): Promise<void> {
    for (const { id, showId } of guests) {
      const folder = recordingFolder(this.settings, showId);
      for (const name of await namesOf(folder, id)) await rm(join(folder, name), { force: true });
    }
  }

  /** Mails that were written as files, where there is no mail server. */
  private async removeFiles(ids: readonly string[]): Promise<void> {
    if (!ids.length) return;
    const folder = join(this.settings.dataDir, 'outbox');
    const gone = new Set(ids);
    for (const name of await readdir(folder).catch(() => []))
      if (gone.has(/-([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})\.eml$/.exec(name)?.[1] ?? '')) await rm(join(folder, name), { force: true });
  }
}

/** As somebody reads it who is given it: moments by their date (ISO 8601), lists as lists. */
const readable = (row: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(row).map(([name, value]) => {
      if (/At$/.test(name) && typeof value === 'number') return [name, new Date(value).toISOString()];
      return [name, name === 'groups' ? (JSON.parse(String(value)) as string[]) : value];
    }),
  );

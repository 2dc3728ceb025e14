// Mail that goes out: kept first, sent then, tried again where the mail server does not answer. Without a mail
// server each mail is written as a file into a folder that stands in for one.
import { MINUTE_MS } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { createHash, randomUUID } from 'node:crypto';
import { mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createTransport, type SentMessageInfo, type Transporter } from 'nodemailer';
import { DataSource, In, IsNull, LessThan, LessThanOrEqual, type EntityManager } from 'typeorm';
import type { MailState, OutboxView } from '@lantern/contract';
import { Clock } from '../foundation/clock';
import { RegularWork } from '../foundation/regular-work';
import { PlainError } from '../foundation/errors';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Vault } from '../foundation/vault';
import { Mail } from './mail.entities';
import { breathe } from '../foundation/breathe';

const EVERY_MS = 5_000;
const AT_ONCE = 20;
const BESIDE_EACH_OTHER = 5;
/** Doubling waits, for about a day. */
const TRIES_MAX = 11;
const MOST_SHOWN = 100;
const MOST_IN_A_QUERY = 500;

/** What of a mail is kept from everybody's eyes until it is sent. */
interface Sealed {
  text: string;
  calendar: string | null;
  leaveUrl: string | null;
}

export interface Letter {
  stationId: string;
  to: string;
  subject: string;
  text: string;
  /** What it is about: the same is sent once, however often it is asked for. */
  about: string;
  /** A calendar file that goes with it. */
  calendar?: string;
  /** Where a mail program can leave by itself (RFC 8058). */
  leaveUrl?: string;
}

/** What a letter is about, and to whom: by it the same is known again. */
const markOf = ({ about, to }: Pick<Letter, 'about' | 'to'>): string => createHash('sha256').update(`${about} ${to}`).digest('base64url');

@Injectable()
export class OutboxService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly work = new RegularWork('mail', EVERY_MS, () => this.sendAll());
  private readonly log = new Logger('mail');
  private readonly transport: Transporter<SentMessageInfo>;

  constructor(
    private readonly database: DataSource,
    private readonly vault: Vault,
    private readonly clock: Clock,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    this.transport = settings.smtpUrl
      ? createTransport({ url: settings.smtpUrl, pool: true, maxConnections: BESIDE_EACH_OTHER })
      : createTransport({ streamTransport: true, buffer: true, newline: 'windows' });
  }

  onApplicationBootstrap(): void {
    this.work.start();
  }

  onApplicationShutdown(): void {
    this.work.stop();
    this.transport.close();
  }

  /** Takes a letter to be sent. */
  post(letter: Letter): Promise<void> {
    return this.postAll([letter], this.database.manager);
  }

  /** Takes letters to be sent, together with what else is written there. */
  async postAll(letters: readonly Letter[], entities: EntityManager): Promise<void> {
    const dueAt = this.clock.now();
    const mails = letters.map(({ stationId, to, subject, text, calendar, leaveUrl, about }) => ({
      ...{ id: randomUUID(), stationId, recipient: to, subject, dueAt, sentAt: null, tries: 0, trouble: '' },
      about: markOf({ about, to }),
      sealed: this.vault.seal({ text, calendar: calendar ?? null, leaveUrl: leaveUrl ?? null } satisfies Sealed),
    }));
    await entities.createQueryBuilder().insert().into(Mail).values(mails).orIgnore().updateEntity(false).execute();
  }

  /** How many of these were taken already. */
  async countOf(letters: readonly Pick<Letter, 'about' | 'to'>[]): Promise<number> {
    let count = 0;
    for (let at = 0; at < letters.length; at += MOST_IN_A_QUERY)
      count += await this.database.getRepository(Mail).countBy({ about: In(letters.slice(at, at + MOST_IN_A_QUERY).map(markOf)) });
    return count;
  }

  async view(stationId: string): Promise<OutboxView> {
    const mails = this.database.getRepository(Mail);
    const shown = { id: true, recipient: true, subject: true, trouble: true, sentAt: true, dueAt: true, tries: true } as const;
    const rows = await mails.find({ where: { stationId }, order: { dueAt: 'DESC' }, take: MOST_SHOWN, select: shown });
    // What went out is counted by its index alone; of the rest there is little.
    const [counts] = (await this.database.query(
      `SELECT (SELECT COUNT(*) FROM mails WHERE stationId = ? AND sentAt IS NOT NULL) AS sent,
        COALESCE(SUM(tries = 0), 0) AS waiting, COALESCE(SUM(tries BETWEEN 1 AND ? - 1), 0) AS failing, COALESCE(SUM(tries >= ?), 0) AS "given up"
       FROM mails WHERE stationId = ? AND sentAt IS NULL`,
      [stationId, TRIES_MAX, TRIES_MAX, stationId],
    )) as [OutboxView['counts']];
    return {
      server: this.settings.smtpUrl !== null,
      counts,
      mails: rows.map((mail) => ({
        ...{ id: mail.id, recipient: mail.recipient, subject: mail.subject, trouble: mail.trouble },
        state: stateOf(mail),
        at: mail.sentAt ?? mail.dueAt,
      })),
    };
  }

  /** Tries a mail again at once, with all its tries before it. */
  async again(stationId: string, id: string): Promise<void> {
    const { affected } = await this.database.getRepository(Mail).update({ id, stationId, sentAt: IsNull() }, { dueAt: this.clock.now(), tries: 0 });
    if (!affected) throw new PlainError(409, 'This mail has gone out meanwhile.');
    await this.sendDue();
  }

  /** Sends what is due. What cannot be sent waits twice as long as before. */
  sendDue(): Promise<void> {
    return this.work.now();
  }

  /** All that is due, a few at a time: a reminder is of use only while it is fresh. */
  private async sendAll(): Promise<void> {
    const mails = this.database.getRepository(Mail);
    for (;;) {
      const where = { sentAt: IsNull(), dueAt: LessThanOrEqual(this.clock.now()), tries: LessThan(TRIES_MAX) };
      const due = await mails.find({ where, order: { dueAt: 'ASC' }, take: AT_ONCE });
      // What one person gets comes in its order.
      const byRecipient = new Map<string, Mail[]>();
      for (const mail of due) byRecipient.set(mail.recipient, [...(byRecipient.get(mail.recipient) ?? []), mail]);
      const sending = [...byRecipient.values()];
      await Promise.all(
        Array.from({ length: BESIDE_EACH_OTHER }, async () => {
          for (let mine = sending.shift(); mine; mine = sending.shift()) for (const mail of mine) await this.tryOne(mail);
        }),
      );
      if (due.length < AT_ONCE) return;
      await breathe();
    }
  }

  /** What cannot be sent waits twice as long as before. Noted one by one: a server that is killed sends none of them twice but those on their way. */
  private async tryOne(mail: Mail): Promise<void> {
    const mails = this.database.getRepository(Mail);
    try {
      await this.send(mail);
    } catch (error) {
      const trouble = (error instanceof Error ? error.message : 'unknown').slice(0, 200);
      this.log.warn(`a mail could not be sent: ${trouble}`);
      await mails.update({ id: mail.id }, { trouble, tries: mail.tries + 1, dueAt: this.clock.now() + MINUTE_MS * 2 ** mail.tries });
      return;
    }
    // Its links are secrets: nothing of them is kept once they are on their way.
    await mails.update({ id: mail.id }, { sentAt: this.clock.now(), sealed: '', trouble: '' });
  }

  private async send({ id, recipient, subject, sealed }: Mail): Promise<void> {
    const letter = this.vault.open<Sealed>(sealed);
    if (!letter) throw new Error('the key file that sealed it is lost');
    const { text, calendar, leaveUrl } = letter;
    const sent = await this.transport.sendMail({
      from: this.settings.mailFrom,
      to: { name: '', address: recipient },
      subject,
      text,
      ...(leaveUrl && { headers: { 'List-Unsubscribe': `<${leaveUrl}>`, 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' } }),
      ...(calendar && { attachments: [{ filename: 'show.ics', content: calendar, contentType: 'text/calendar; charset=utf-8' }] }),
    });
    if (this.settings.smtpUrl) return;
    const folder = join(this.settings.dataDir, 'outbox');
    await mkdir(folder, { recursive: true });
    const path = join(folder, `${new Date(this.clock.now()).toISOString().replaceAll(':', '-')}-${id}.eml`);
    await writeFile(`${path}.new`, (sent as { message: Buffer }).message, { mode: 0o600 });
    await rename(`${path}.new`, path);
  }
}

function stateOf({ sentAt, tries }: Pick<Mail, 'sentAt' | 'tries'>): MailState {
  if (sentAt !== null) return 'sent';
  return tries === 0 ? 'waiting' : tries < TRIES_MAX ? 'failing' : 'given up';
}

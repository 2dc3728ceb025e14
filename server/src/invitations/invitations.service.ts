// People who are asked to a show, each with a link of their own.
import { RemovalService } from '../shows/removal.service';
import type { ContactsInvited, InvitationRequest, InvitationView } from '@lantern/contract';
import { instant, sayWhen } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource, In, IsNull } from 'typeorm';
import { Clock } from '../foundation/clock';
import { addRow } from '../foundation/together';
import { digestOf } from '../foundation/digest';
import { PlainError } from '../foundation/errors';
import { Vault } from '../foundation/vault';
import { MailLinks } from '../mail/mail-links';
import { OutboxService } from '../mail/outbox.service';
import { AiringsService } from '../shows/airings.service';
import type { Show } from '../shows/show.entities';
import { Invitation } from './invitation.entities';

const MOST_PER_SHOW = 1_000;

@Injectable()
export class InvitationsService {
  constructor(
    private readonly database: DataSource,
    private readonly airings: AiringsService,
    private readonly outbox: OutboxService,
    private readonly vault: Vault,
    private readonly links: MailLinks,
    private readonly clock: Clock,
    removal: RemovalService,
  ) {
    removal.takeAlong({ table: 'invitations', where: 'showId = ?' });
  }

  /** Invites contacts; whoever was invited before keeps that invitation. */
  async inviteAll(show: Show, contacts: readonly InvitationRequest[]): Promise<ContactsInvited> {
    leadsSomewhere(show);
    const known = new Set((await this.list(show.id)).map(({ email }) => email));
    const fresh = contacts.filter(({ email }) => !known.has(email));
    if (known.size + fresh.length > MOST_PER_SHOW) throw new PlainError(409, `A show takes ${MOST_PER_SHOW} invitations.`);
    for (const contact of fresh) await this.invite(show, contact);
    return { invited: fresh.length, before: contacts.length - fresh.length };
  }

  async invite(show: Show, { name, email }: InvitationRequest): Promise<InvitationView> {
    leadsSomewhere(show);
    const invitations = this.database.getRepository(Invitation);
    const address = email.trim().toLowerCase();
    if (await invitations.existsBy({ showId: show.id, email: address })) throw new PlainError(409, `${address} is invited already.`);
    if ((await invitations.countBy({ showId: show.id })) >= MOST_PER_SHOW) throw new PlainError(409, `A show takes ${MOST_PER_SHOW} invitations.`);
    const id = randomUUID();
    const secret = this.secretOf({ id });
    const invitation = Object.assign(new Invitation(), {
      ...{
        id,
        showId: show.id,
        name: name.trim(),
        email: address,
        tokenHash: digestOf(secret),
        answer: 'asked',
        invitedAt: this.clock.now(),
        toldStart: show.startsAt,
        told: '',
        cameAt: null,
        leftAt: null,
      },
    } satisfies Invitation);
    await addRow(this.database.manager, Invitation, invitation);
    const station = await this.airings.station(show.stationId);
    const title = await this.airings.publicTitle(show);
    await this.outbox.post({
      stationId: show.stationId,
      to: address,
      subject: `${station.name} invites you: ${title.replace(/\s+/g, ' ').trim()}`,
      about: `invited ${invitation.id}`,
      text: `Dear ${invitation.name},\n\n${station.name} invites you to “${title}”, ${sayWhen(instant(show.startsAt), show.zone)}.\n\nThis link is yours alone; say there whether you come, and watch there:\n${this.linkOf(show, invitation)}\n`,
    });
    return viewOf(invitation);
  }

  /** The link that is one person's own; made again for each mail, so that it need not be kept. */
  linkOf(show: Show, { id }: Pick<Invitation, 'id'>): string {
    return `${this.airings.houseUrl(show)}?pass=${this.secretOf({ id })}`;
  }

  private secretOf({ id }: Pick<Invitation, 'id'>): string {
    return this.vault.mark(`pass ${id}`);
  }

  async list(showId: string): Promise<InvitationView[]> {
    return (await this.database.getRepository(Invitation).find({ where: { showId }, order: { invitedAt: 'ASC' } })).map(viewOf);
  }

  /** Takes an invitation back: its link leads nowhere from then on. */
  async takeBack(showId: string, id: string): Promise<void> {
    await this.database.getRepository(Invitation).delete({ id, showId });
  }

  bySecret(showId: string, secret: string): Promise<Invitation | null> {
    return this.database.getRepository(Invitation).findOneBy({ showId, tokenHash: digestOf(secret) });
  }

  /**
   * The next who were invited until a moment and are to be told something. `which`: the condition on what they were told so far, over
   * the columns `told` and `toldStart`.
   */
  notYetTold(showId: string, { comingAlone, until, which }: { comingAlone: boolean; until: number; which: string }, most: number): Promise<Invitation[]> {
    const mine = `leftAt IS NULL AND ${comingAlone ? `answer = 'accepted'` : `answer <> 'declined'`}`;
    return this.database
      .getRepository(Invitation)
      .createQueryBuilder('invitations')
      .where(`showId = :showId AND ${mine} AND invitedAt <= :until AND ${which}`, { showId, until })
      .limit(most)
      .getMany();
  }

  async noteTold(ids: readonly string[], told: { told?: string; toldStart?: number }): Promise<void> {
    await this.database.getRepository(Invitation).update({ id: In([...ids]) }, told);
  }

  /** Whoever was invited and may be written to once the show is over. */
  afterwards(showId: string): Promise<Invitation[]> {
    return this.database.getRepository(Invitation).find({ where: { showId, leftAt: IsNull() }, order: { invitedAt: 'ASC' } });
  }

  /** With which they hear no more of it. Their invitation stays: its link leads to the replay. */
  leaveUrl({ id }: Pick<Invitation, 'id'>): string {
    return this.links.leaveUrl('invitation', id);
  }

  /** Whether a link of a mail is for leaving an invitation. */
  isLeaving(secret: string): boolean {
    return this.links.whoLeaves('invitation', secret) !== null;
  }

  /** By the link of a mail. Leaving twice does no harm. */
  async leave(secret: string): Promise<void> {
    const id = this.links.whoLeaves('invitation', secret);
    if (id !== null) await this.database.getRepository(Invitation).update({ id, leftAt: IsNull() }, { leftAt: this.clock.now() });
  }

  /** Somebody who was invited has watched. */
  async came({ id }: Pick<Invitation, 'id'>, at: number): Promise<void> {
    await this.database.getRepository(Invitation).update({ id, cameAt: IsNull() }, { cameAt: at });
  }

  async answer(invitation: Invitation, answer: 'accepted' | 'declined'): Promise<void> {
    await this.database.getRepository(Invitation).update({ id: invitation.id }, { answer });
  }
}

function leadsSomewhere({ state }: Show): void {
  if (state === 'draft') throw new PlainError(409, 'Place the show first: an invitation must lead somewhere.');
}

function viewOf({ id, name, email, answer, invitedAt }: Invitation): InvitationView {
  return { id, name, email, answer, invitedAt };
}

// Thanks after a show, by the outbox: each person once, with the address of the replay and a way to hear no more.
import { THANKED, type Thanked, type ThanksDraft, type ThanksView } from '@lantern/contract';
import { wordsForPlace } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { placeName } from '../channels/access.service';
import { RuleBookService } from '../channels/rule-book.service';
import { breathe } from '../foundation/breathe';
import { PlainError } from '../foundation/errors';
import { oneLine } from '../foundation/one-line';
import { GuestsService } from '../guests/guests.service';
import { HouseViewsService } from '../house/house-views.service';
import { InvitationsService } from '../invitations/invitations.service';
import { OutboxService, type Letter } from '../mail/outbox.service';
import { RemindersService } from '../reminders/reminders.service';
import { AiringsService } from '../shows/airings.service';
import { ShowsService } from '../shows/shows.service';
import type { Show } from '../shows/show.entities';

const AT_ONCE = 25;

/** Somebody who is thanked: `leaving` closes their letter. */
interface Listener {
  id: string;
  to: string;
  url: string;
  leaving: string;
  leaveUrl: string | null;
}

const TEXTS: Record<Thanked, (title: string) => { subject: string; text: string }> = {
  came: (title) => ({
    subject: `Thank you for coming: ${title}`,
    text: `It was good to have you with us at “${title}”. If you want to see a part of it once more, it is here:`,
  }),
  missed: (title) => ({
    subject: `To see in your own time: ${title}`,
    text: `We missed you at “${title}”. You can see all of it here, whenever it suits you:`,
  }),
  registered: (title) => ({ subject: `${title}, to see again`, text: `Thank you for your interest in “${title}”. Whether you were there or not, here it is:` }),
  guests: (title) => ({
    subject: `Thank you for being our guest: ${title}`,
    text: `Thank you for your time and your words at “${title}”. This is the recording; pass it on as you like:`,
  }),
};

@Injectable()
export class ThanksService {
  constructor(
    private readonly database: DataSource,
    private readonly airings: AiringsService,
    private readonly invitations: InvitationsService,
    private readonly reminders: RemindersService,
    private readonly guests: GuestsService,
    private readonly views: HouseViewsService,
    private readonly outbox: OutboxService,
    private readonly shows: ShowsService,
    private readonly ruleBook: RuleBookService,
  ) {}

  async of(show: Show): Promise<ThanksView> {
    const title = oneLine(await this.airings.publicTitle(show));
    const groups = await Promise.all(
      THANKED.map(async (whom) => {
        const all = await this.listeners(show, whom);
        const thanked = await this.outbox.countOf(all.map(({ id, to }) => ({ to, about: aboutOf(whom, show, id) })));
        return { whom, count: all.length, thanked, ...TEXTS[whom](title) };
      }),
    );
    const there = await this.isThere(show);
    return { replayUrl: there ? this.airings.houseUrl(show) : null, groups, places: there ? await this.places(show, title) : [] };
  }

  private async places(show: Show, title: string): Promise<ThanksView['places']> {
    const { chapters } = await this.views.watchable(show, await this.airings.station(show.stationId));
    // An address that is for some people alone is said on no channel.
    if (show.houseVisibility !== 'everyone') return [];
    return (await this.shows.airingsOf(show)).flatMap(({ airing, channel }) => {
      const name = placeName(channel);
      if (airing.placing !== 'placed') return [];
      const url = this.airings.houseUrl(show, name.toLowerCase());
      return [
        {
          airingId: airing.id,
          name: channel.name === name ? name : `${name}, ${channel.name}`,
          words: wordsForPlace({ title, url, chapters }, this.ruleBook.rules(channel).textMax),
        },
      ];
    });
  }

  /** Writes to everybody of a group who was not written to. */
  async send(show: Show, { whom, subject, text }: ThanksDraft): Promise<void> {
    if (!(await this.isThere(show))) throw new PlainError(409, 'There is nothing to be seen on the house page yet. Show the recording or a cut there first.');
    const all = await this.listeners(show, whom);
    if (!all.length) throw new PlainError(409, 'There is nobody to thank here.');
    for (let at = 0; at < all.length; at += AT_ONCE) {
      const letters = all.slice(at, at + AT_ONCE).map(({ id, to, url, leaving, leaveUrl }): Letter => ({
        ...{ stationId: show.stationId, to, subject: oneLine(subject), text: `${text.trim()}\n\n${url}\n${leaving}`, about: aboutOf(whom, show, id) },
        ...(leaveUrl !== null && { leaveUrl }),
      }));
      await this.outbox.postAll(letters, this.database.manager);
      await breathe();
    }
  }

  private async isThere(show: Show): Promise<boolean> {
    if (show.state !== 'over') return false;
    const station = await this.airings.station(show.stationId);
    return this.views.watchable(show, station).then(
      () => true,
      () => false,
    );
  }

  private async listeners(show: Show, whom: Thanked): Promise<Listener[]> {
    if (whom === 'guests') {
      const url = this.airings.houseUrl(show, 'mail');
      const guests = await this.guests.list(show.id, true);
      return guests.flatMap(({ id, email, answer }) => (email && answer === 'accepted' ? [{ id, to: email, url, leaving: '', leaveUrl: null }] : []));
    }
    if (whom === 'registered') return this.reminders.thankable(show);
    return (await this.invitations.afterwards(show.id))
      .filter(({ answer, cameAt }) => (whom === 'came' ? cameAt !== null : cameAt === null && answer !== 'declined'))
      .map((invitation) => {
        const leaveUrl = this.invitations.leaveUrl(invitation);
        const { id, email: to } = invitation;
        return { id, to, url: this.invitations.linkOf(show, invitation), leaving: `\nTo hear no more of it: ${leaveUrl}\n`, leaveUrl };
      });
  }
}

const aboutOf = (whom: Thanked, { id }: Show, listener: string): string => `thanks ${whom} ${id} ${listener}`;

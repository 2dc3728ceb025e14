// Showing a secret to a person who asks for it: only to those whose role allows it, who have given
// their password lately, and whose browser is not showing anything to the public at this moment.
import { PASSWORD_GOOD_MS, type RevealedEncoderSet, type RevealedKey, type RevealRequest } from '@lantern/contract';
import { encoderSetAsText, encoderSetFileName, instant, sayWhen, type EncoderSet } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { StagesOnAir } from '../people/stages-on-air';
import { placeName, wordsOfNetworkError } from '../channels/access.service';
import { ChannelAccessService } from '../channels/access.service';
import { Clock } from '../foundation/clock';
import { PlainError } from '../foundation/errors';
import { AuditService } from '../people/audit.service';
import type { Person } from '../people/people.entities';
import { PeopleService } from '../people/people.service';
import { ShowsService } from '../shows/shows.service';
import { LinesService } from './lines.service';
import { demand } from '../people/signed-in';

const NOTED: Record<RevealRequest['purpose'], string> = { show: 'saw', copy: 'copied', file: 'saved' };

@Injectable()
export class RevealService {
  constructor(
    private readonly people: PeopleService,
    private readonly stages: StagesOnAir,
    private readonly lines: LinesService,
    private readonly shows: ShowsService,
    private readonly access: ChannelAccessService,
    private readonly audit: AuditService,
    private readonly clock: Clock,
  ) {}

  async key(person: Person, token: string, lineId: string, purpose: RevealRequest['purpose']): Promise<RevealedKey> {
    await this.demandRight(person, token);
    const { line, channel } = await this.lines.one(person.stationId, lineId);
    const key = await this.lines.key(line, channel);
    await this.audit.note(person, `${NOTED[purpose]} the key of`, `${line.name}, ${channel.name}`);
    return { key };
  }

  /** Address, key and watch link of one airing, for a show whose picture comes from an outside encoder. */
  async encoderSet(person: Person, token: string, showId: string, airingId: string, purpose: RevealRequest['purpose']): Promise<RevealedEncoderSet> {
    await this.demandRight(person, token);
    const { show, airings } = await this.shows.whole(person.stationId, showId);
    const found = airings.find(({ airing }) => airing.id === airingId);
    if (!found) throw new PlainError(404, 'This show does not air there. Reload the page.');
    const { airing, channel } = found;
    if (channel.network !== 'typed-in' && airing.placing !== 'placed' && airing.placing !== 'awaits air') {
      throw new PlainError(409, `Place the show on ${channel.name} first: its key is known then.`);
    }
    let set: EncoderSet;
    try {
      const line = airing.remoteId === null ? await this.lines.lasting(airing, channel) : await this.lines.ingest(airing, channel);
      set = {
        showTitle: show.title,
        channelName: channel.network === 'typed-in' ? channel.name : `${channel.name} (${channel.kind} on ${placeName(channel)})`,
        when: sayWhen(instant(show.startsAt), show.zone),
        address: line.address,
        backupAddress: line.backupAddress,
        key: line.key,
        watchUrl: airing.watchUrl ?? channel.watchUrl,
      };
    } catch (error) {
      throw new PlainError(502, wordsOfNetworkError(error, channel, this.access.connectorOf(channel)));
    }
    await this.audit.note(person, `${NOTED[purpose]} the encoder set of`, `${show.title}, ${channel.name}`);
    return { set, text: encoderSetAsText(set), fileName: encoderSetFileName({ showTitle: show.title, channelName: channel.name }) };
  }

  /** Notes in the record that somebody has seen a secret of `what`. */
  noteSeen(person: Person, purpose: RevealRequest['purpose'], what: string, of: string): Promise<void> {
    return this.audit.note(person, `${NOTED[purpose]} ${what}`, of);
  }

  /** Throws, with what to do, unless this person may see secrets in this browser now. */
  async demandRight(person: Person, token: string): Promise<void> {
    demand(person, 'see keys');
    const shown = this.stages.shownBy(token);
    if (shown === 'a screen')
      throw new PlainError(
        409,
        'A screen is shared from this browser, and a key must never come into a picture. Stop sharing first, or look it up in another browser.',
      );
    if (shown === 'a programme')
      throw new PlainError(
        409,
        'A stage in this browser is on air, and a key must never come into a picture. Look it up after the show, or in another browser.',
      );
    const passwordAt = await this.people.passwordGivenAt(token);
    if (passwordAt === null || this.clock.now() - passwordAt > PASSWORD_GOOD_MS) {
      throw new PlainError(403, 'Give your password once more before a key is shown.', { needs: 'password' });
    }
  }
}

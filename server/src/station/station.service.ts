// What holds for all shows of a station.
import type { FeedAddress, StationSettings, StationView } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes } from 'node:crypto';
import { DataSource } from 'typeorm';
import { digestOf } from '../foundation/digest';
import { SETTINGS, type Settings } from '../foundation/settings';
import { AuditService } from '../people/audit.service';
import { SubscriptionsService } from '../reminders/subscriptions.service';
import { Person, Station } from '../people/people.entities';

@Injectable()
export class StationService {
  constructor(
    private readonly database: DataSource,
    private readonly audit: AuditService,
    private readonly subscriptions: SubscriptionsService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async view(stationId: string): Promise<StationView> {
    const { name, zone, cities, milestoneTimes, feedHash, slug, supportersHash } = await this.database
      .getRepository(Station)
      .findOneByOrFail({ id: stationId });
    return {
      name,
      zone,
      cities,
      milestoneTimes,
      standIns: this.settings.standIns,
      feedOpen: feedHash !== null,
      pageUrl: `${this.settings.publicUrl}/at/${slug}`,
      subscribers: await this.subscriptions.count(stationId),
      supportersCode: supportersHash !== null,
    };
  }

  async change(stationId: string, { zone, cities, milestoneTimes }: StationSettings): Promise<StationView> {
    const kept = cities.map((city) => ({ name: city.name.trim(), zone: city.zone }));
    await this.database.getRepository(Station).update({ id: stationId }, { zone, cities: kept, milestoneTimes: { ...milestoneTimes } });
    return this.view(stationId);
  }

  /** Makes a new secret address for the calendar; an earlier one leads nowhere from then on. Told once: only a digest is kept. */
  async openFeed(person: Person): Promise<FeedAddress> {
    const secret = randomBytes(24).toString('base64url');
    await this.database.getRepository(Station).update({ id: person.stationId }, { feedHash: digestOf(secret) });
    await this.audit.note(person, 'opened', 'the calendar feed');
    return { url: `${this.settings.publicUrl}/calendar/${secret}.ics` };
  }

  async closeFeed(person: Person): Promise<void> {
    await this.database.getRepository(Station).update({ id: person.stationId }, { feedHash: null });
    await this.audit.note(person, 'closed', 'the calendar feed');
  }

  byFeedSecret(secret: string): Promise<Station | null> {
    return this.database.getRepository(Station).findOneBy({ feedHash: digestOf(secret) });
  }
}

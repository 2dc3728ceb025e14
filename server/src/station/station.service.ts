// What holds for all shows of a station.
import type { FeedAddress, StationSettings, StationView } from '@lantern/contract';
import { Inject, Injectable } from '@nestjs/common';
import { randomBytes } from 'node:crypto';
import { digestOf } from '../foundation/digest';
import { SETTINGS, type Settings } from '../foundation/settings';
import { AuditService } from '../people/audit.service';
import { SubscriptionsService } from '../reminders/subscriptions.service';
import type { Person, Station } from '../people/people.entities';
import { Stations } from '../people/stations';

@Injectable()
export class StationService {
  constructor(
    private readonly stations: Stations,
    private readonly audit: AuditService,
    private readonly subscriptions: SubscriptionsService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async view(stationId: string): Promise<StationView> {
    const { name, zone, cities, milestoneTimes, dateOrder, feedHash, slug, supportersHash } = await this.stations.mustBe(stationId);
    return {
      name,
      zone,
      cities,
      milestoneTimes,
      dateOrder,
      standIns: this.settings.standIns,
      feedOpen: feedHash !== null,
      pageUrl: `${this.settings.publicUrl}/at/${slug}`,
      subscribers: await this.subscriptions.count(stationId),
      supportersCode: supportersHash !== null,
    };
  }

  async change(stationId: string, { zone, cities, milestoneTimes, dateOrder }: StationSettings): Promise<StationView> {
    const kept = cities.map((city) => ({ name: city.name.trim(), zone: city.zone }));
    await this.stations.change(stationId, { zone, cities: kept, milestoneTimes: { ...milestoneTimes }, dateOrder });
    return this.view(stationId);
  }

  /** Makes a new secret address for the calendar; an earlier one leads nowhere from then on. Told once: only a digest is kept. */
  async openFeed(person: Person): Promise<FeedAddress> {
    const secret = randomBytes(24).toString('base64url');
    await this.stations.change(person.stationId, { feedHash: digestOf(secret) });
    await this.audit.note(person, 'opened', 'the calendar feed');
    return { url: `${this.settings.publicUrl}/calendar/${secret}.ics` };
  }

  async closeFeed(person: Person): Promise<void> {
    await this.stations.change(person.stationId, { feedHash: null });
    await this.audit.note(person, 'closed', 'the calendar feed');
  }

  byFeedSecret(secret: string): Promise<Station | null> {
    return this.stations.byFeed(digestOf(secret));
  }
}

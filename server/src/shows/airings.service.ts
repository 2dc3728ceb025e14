// What one airing says and asks for: the common text or its variant, filled in, with what was chosen for
// its channel. Sheet, placing, drift and rules all see an airing through here.
import {
  factsToCheck,
  wordsOnChannel,
  fillPlaceholders,
  instant,
  settingsFor,
  wordingFor,
  type AiringFacts,
  type AiringSettings,
  type Filling,
  type ShowFacts,
  asItWillStand,
} from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import type { Channel } from '../channels/channel.entities';
import { RuleBookService } from '../channels/rule-book.service';
import { digestOf } from '../foundation/digest';
import { SETTINGS, type Settings } from '../foundation/settings';
import type { Station } from '../people/people.entities';
import { Stations } from '../people/stations';
import type { Airing, Show } from './show.entities';

@Injectable()
export class AiringsService {
  constructor(
    private readonly stations: Stations,
    private readonly ruleBook: RuleBookService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** `from`: where the link stands, for whoever counts which links are followed. */
  houseUrl(show: Pick<Show, 'slug'>, from?: string): string {
    return `${this.settings.publicUrl}/on/${show.slug}${from === undefined ? '' : `?from=${encodeURIComponent(from)}`}`;
  }

  /** The short address; null where the page is not for everyone, since short ones can be guessed. */
  shortUrl(show: Pick<Show, 'short' | 'houseVisibility'>): string | null {
    return show.houseVisibility === 'everyone' ? `${this.settings.publicUrl}/s/${show.short}` : null;
  }

  station(stationId: string): Promise<Station> {
    return this.stations.mustBe(stationId);
  }

  /** What placeholders stand for; `watchUrl`: on the channel meant, null for none or not known. */
  filling(show: Show, watchUrl: string | null, { cities }: Pick<Station, 'cities'>): Filling {
    const guests = show.people.filter(({ role }) => role === 'guest').map(({ name }) => name);
    return { startsAt: instant(show.startsAt), zone: show.zone, cities, watchUrl, houseUrl: this.houseUrl(show), episode: show.episode, guests };
  }

  /** The title as everybody reads it. */
  async publicTitle(show: Show): Promise<string> {
    return fillPlaceholders(show.title, this.filling(show, null, await this.station(show.stationId))).text;
  }

  /** Everything that is chosen for an airing, over its channel's defaults. */
  chosen(airing: Airing, channel: Channel): AiringSettings {
    return settingsFor(airing.choices, channel.defaults, this.ruleBook.rules(channel));
  }

  /** Changes with whatever of a channel and its station goes into what an airing says: defaults, rules in force, cities. */
  contextKey(channel: Channel, { cities }: Pick<Station, 'cities'>): string {
    return digestOf(JSON.stringify([channel.defaults, this.ruleBook.rules(channel), cities]));
  }

  /** What the show asks of the channel beside the facts, its line included: tells whether the channel was told of it. */
  choicesKey({ choices, lineId }: Pick<Airing, 'choices' | 'lineId'>, channel: Channel): string {
    // Who may see it is one of the facts; a typed-in channel is told of no line.
    const told: [string, unknown][] = Object.entries(choices).filter(([name]) => name !== 'visibility');
    if (lineId !== null && channel.network !== 'typed-in' && this.ruleBook.rules(channel).lines === 'named') told.push(['line', lineId]);
    return JSON.stringify(told.sort());
  }

  /** What the channel is to be told about an airing. */
  facts(show: Show, airing: Airing, channel: Channel, station: Pick<Station, 'cities'>): AiringFacts {
    const wording = wordingFor({ ...wordsOnChannel(show, airing), filling: this.filling(show, airing.watchUrl, station) }, this.ruleBook.rules(channel));
    const chosen = this.chosen(airing, channel);
    const { startsAt, lengthMs } = show;
    return { title: wording.title, text: wording.text, startsAt, lengthMs, visibility: chosen.visibility, choices: asItWillStand(chosen) };
  }

  /** The same as the rules look at it. */
  checked(show: Show, airing: Airing, channel: Channel, station: Pick<Station, 'cities'>): ShowFacts {
    const { visibility, audience, messages } = this.chosen(airing, channel);
    const { title, description, startsAt, lengthMs, thumbnail, thumbnailAlternative } = show;
    return factsToCheck({
      ...{ title, description, startsAt, lengthMs, thumbnail, thumbnailAlternative },
      variant: airing,
      filling: this.filling(show, airing.watchUrl, station),
      settings: { visibility, audience, messages },
      stands: airing,
    });
  }
}

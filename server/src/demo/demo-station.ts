// The made-up station of the demo: its people, channels and shows, with dates relative to now. Linking
// and placing go the way that a host's would, over the networks' own interfaces.
import type { PersonOnShow, Role, ShowDraft } from '@lantern/contract';
import {
  DAY_MS,
  HOUR_MS,
  instant,
  LONGEST_SAMPLE_GAP_MS,
  MINUTE_MS,
  OWN_LOOK,
  USUAL_TIMES,
  wallTimeOf,
  type City,
  type Cue,
  type ClipInShow,
  type Graphic,
  type Happening,
  type Lamp,
  type NetworkId,
  type PictureLayout,
  type PictureRecipe,
  type Repeat,
  type SkyMood,
  BLANK_SHEET,
} from '@lantern/core';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { copyFile, mkdir, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { DataSource } from 'typeorm';
import { ComposerService } from '../artwork/composer.service';
import { ClipsService } from '../clips/clips.service';
import { LooksService } from '../artwork/looks.service';
import { PiecesService } from '../artwork/pieces.service';
import { HappeningRows } from '../air/happening-rows';
import { CaptionsService } from '../captions/captions.service';
import { halfName, takeName } from '../media/own-sound-files';
import { recordingFolder } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { AiringPlays, HouseCount } from '../plays/plays.entities';
import { PlaysService } from '../plays/plays.service';
import { AirSampleRow } from '../air/air.entities';
import { Channel } from '../channels/channel.entities';
import { ChannelsService } from '../channels/channels.service';
import { LinkingService } from '../channels/linking.service';
import { ContactsService } from '../contacts/contacts.service';
import { Invitation } from '../invitations/invitation.entities';
import { Registration } from '../reminders/reminder.entities';
import { Bus } from '../foundation/bus';
import { Clock } from '../foundation/clock';
import { SETTINGS, type Settings } from '../foundation/settings';
import { LinesService } from '../lines/lines.service';
import { GuestsService } from '../guests/guests.service';
import { QuestionsService } from '../questions/questions.service';
import { hashPassword } from '../people/passwords';
import { Person, Station } from '../people/people.entities';
import { SeriesService } from '../series/series.service';
import { PlacingService } from '../placing/placing.service';
import { Airing, Show } from '../shows/show.entities';
import { ShowsService } from '../shows/shows.service';
import { addRow, together } from '../foundation/together';
import { EVENING_CAPTIONS, EVENING_MS, recordEvening, SEEN, takeOfGuest } from './evening';
import { withOpeningFilm } from './film';
import { eveningTune } from './tune';
import { drawDome, drawPortrait, drawLoaf, drawOptics, drawSign, type Figure } from './artwork';

/** Lies in the data folder for as long as the station is being made. */
const SEEDING_MARK = 'seeding';
const ZONE = 'Europe/Dublin';
const HOST = 'Maren Tolliver';
const GRID_MS = 5 * MINUTE_MS;
/** The soonest start that every network takes, with a little time to look around before it. */
const DUE_SOON_MS = 17 * MINUTE_MS;

/** How a show's picture is made. */
interface Artwork {
  layout: PictureLayout;
  mood: SkyMood;
  seed: number;
  /** Before the club's dome, or over the sky alone. */
  dome?: boolean;
  line?: string;
  portraits?: boolean;
}

interface PlannedShow {
  title: string;
  description: string;
  startsAt: number;
  lengthMin: number;
  channels: Channel[];
  /** Null: the dome as it is, without words. */
  artwork: Artwork | null;
  place: boolean;
  /** What else its sheet says. */
  more?: Partial<ShowDraft>;
  /** How it repeats, from its start on, and whether its dates are placed by themselves. */
  repeats?: Pick<Repeat, 'pattern' | 'ends' | 'also'> & { placesByItself: boolean };
}

/** The channels of the demo station. */
interface StationChannels {
  library: Channel;
  page: Channel;
  group: Channel;
  guild: Channel;
  handle: Channel;
  hall: Channel;
  /** The library channel's line for the encoder in the hall. */
  hallLineId: string;
}

/** What the library of the demo station holds, by name. */
interface Library {
  looks: Record<'Fell Night' | 'Junior Dome', string>;
  domes: Record<SkyMood, string>;
}

interface PastShow extends Omit<PlannedShow, 'place'> {
  /** Most watching at once on each channel, and whether the first channel failed for a while. */
  peaks: number[];
  faultMin: number;
  /** A short one of which there is a recording; its length is that of `EVENING_MS`. */
  recorded?: boolean;
  /** Whoever was a guest in what was recorded, by name. */
  guest?: string;
}

@Injectable()
export class DemoStation {
  private readonly log = new Logger('demo');
  /** Where the one evening that was recorded lies. */
  private evening: string | null = null;

  constructor(
    private readonly database: DataSource,
    private readonly channels: ChannelsService,
    private readonly linking: LinkingService,
    private readonly lines: LinesService,
    private readonly shows: ShowsService,
    private readonly placing: PlacingService,
    private readonly series: SeriesService,
    private readonly plays: PlaysService,
    private readonly pieces: PiecesService,
    private readonly looks: LooksService,
    private readonly clips: ClipsService,
    private readonly composer: ComposerService,
    private readonly contacts: ContactsService,
    private readonly guests: GuestsService,
    private readonly questions: QuestionsService,
    private readonly recordings: RecordingRows,
    private readonly happenings: HappeningRows,
    private readonly captions: CaptionsService,
    private readonly clock: Clock,
    private readonly bus: Bus,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /**
   * Makes the station once; afterwards only sees to it that a show is due soon. A making that was cut short leaves its mark beside the
   * data: whoever starts the demo begins anew then, and takes no half station for a whole one.
   */
  async make(): Promise<void> {
    const known = await this.database.getRepository(Station).findOneBy({});
    const mark = join(this.settings.dataDir, SEEDING_MARK);
    if (known && existsSync(mark)) throw new Error(`The demo station was left half made. Start the demo again, or remove ${this.settings.dataDir}.`);
    if (!known) {
      writeFileSync(mark, '');
      await this.makeAll();
      await this.clipsMade();
    }
    await this.makeOneDueSoon();
    rmSync(mark, { force: true });
  }

  private async makeAll(): Promise<void> {
    const station = Object.assign(new Station(), {
      id: randomUUID(),
      name: 'Alderfell Sky Club',
      zone: ZONE,
      cities: CITIES,
      milestoneTimes: USUAL_TIMES,
      dateOrder: 'day first',
      feedHash: null,
      slug: 'alderfell-sky-club',
      supportersHash: null,
    });
    const people: [string, string, Role][] = [
      ['Maren Tolliver', 'maren', 'owner'],
      ['Idris Quayle', 'idris', 'producer'],
      ['Bea Lanthorn', 'bea', 'moderator'],
    ];
    const passwordHash = await hashPassword('lantern-light');
    await together(this.database, async (entities) => {
      await addRow(entities, Station, station);
      for (const [name, login, role] of people) {
        await addRow(
          entities,
          Person,
          Object.assign(new Person(), { id: randomUUID(), stationId: station.id, name, email: `${login}@alderfell.example`, passwordHash, role }),
        );
      }
    });
    const channels = await this.makeChannels();
    await this.makeLibrary(station.id);
    for (const contact of CONTACTS) await this.contacts.keep(station.id, contact, null);
    for (const show of this.pastShows(channels)) await this.makePast(station.id, show);
    await this.countPlays();
    const placed: Promise<void>[] = [];
    for (const show of this.comingShows(channels)) placed.push(this.placeComing(station.id, show, await this.makeComing(station.id, show)));
    await Promise.all(placed);
    // They have been planned for as long as hosts plan: not all of it at short notice.
    await this.database.getRepository(Show).update({ stationId: station.id }, { madeAt: this.clock.now() - 30 * DAY_MS });
    // Dates of series that are within reach are placed while the host looks around.
    this.series.tick().catch((error: unknown) => this.log.warn(error instanceof Error ? error.message : String(error)));
  }

  private async makeChannels(): Promise<StationChannels> {
    const maren = await this.maren();
    const library = await this.link(maren, 'reelmoor', 'rm-alderfell');
    await this.link(maren, 'reelmoor', 'rm-junior'); // may not broadcast yet
    const page = await this.link(maren, 'townfold', 'tf-alderfell');
    const group = await this.link(maren, 'townfold', 'tf-noticeboard');
    await this.link(maren, 'townfold', 'tf-maren'); // easily taken for the page
    const guild = await this.link(maren, 'guildhand', 'gh-alderfell');
    const handle = await this.link(maren, 'pipwire', 'pw-alderfellsky');
    const hall = await this.channels.typeIn(maren, {
      name: 'Village hall screen',
      address: `rtmp://localhost:${process.env.LANTERN_NETWORKS_RTMP_PORT ?? 4735}/hall`,
      key: randomUUID(),
    });
    await this.lines.add(library, { name: 'Dome camera' });
    const { id: hallLineId } = await this.lines.add(library, { name: 'Encoder in the hall', heldBy: 'the encoder in the village hall' });
    const science = { ...library.defaults, category: 'science' as const };
    return { library: await this.channels.setDefaults(library, science), page, group, guild, handle, hall, hallLineId };
  }

  private async makeLibrary(stationId: string): Promise<void> {
    const svg = (drawing: string) => Buffer.from(drawing);
    if (this.settings.filmFfmpeg !== null) {
      const tune = Object.assign(Readable.from([eveningTune()]), { headers: {} });
      await this.clips.take(stationId, TUNE, tune, 'Made by the club for its shows');
      await withOpeningFilm(this.settings.filmFfmpeg, (film) => this.clips.take(stationId, OPENING, film, 'Drawn and played by the club'));
    }
    const dome = async ([mood, name]: [SkyMood, string]) => {
      const { id } = await this.pieces.addOwn(stationId, 'picture', name, svg(drawDome(mood, 5)));
      await this.pieces.change(stationId, id, { name, alternative: `The club’s dome on the fell, ${mood === 'day' ? 'by day' : `at ${mood}`}.` });
    };
    const [sign, darkSign] = await Promise.all([
      this.pieces.addOwn(stationId, 'logo', 'Club sign', svg(drawSign('#fbf8f0'))),
      this.pieces.addOwn(stationId, 'logo', 'Club sign on light', svg(drawSign('#12343a'))),
      ...PORTRAITS.map(([name, figure]) => this.pieces.addOwn(stationId, 'portrait', name, svg(drawPortrait(figure)))),
      ...(Object.entries(DOMES) as [SkyMood, string][]).map(dome),
    ]);
    const sponsors: string[] = [];
    for (const [name, drawing] of Object.entries(SPONSORS)) {
      const { id } = await this.pieces.addOwn(stationId, 'logo', name, svg(drawing()));
      await this.pieces.change(stationId, id, { name, alternative: name, rights: 'Drawn by the club, with their leave' });
      sponsors.push(id);
    }
    const fell = await this.looks.add(stationId, {
      ...{ ...OWN_LOOK, name: 'Fell Night', logoId: sign.id, sponsors, sponsorsInCorner: false, letters: { ...OWN_LOOK.letters } },
      background: { kind: 'sky', mood: 'dusk', seed: 3 },
    });
    await this.looks.chooseForStation(stationId, fell.id);
    await this.looks.add(stationId, {
      ...{
        ...OWN_LOOK,
        name: 'Junior Dome',
        palette: { ground: '#fdf3d7', ink: '#12343a', accent: '#a8401f' },
        logoId: darkSign.id,
        straps: 'block',
        cards: 'slip',
      },
      ...{ letters: { display: 'nunito', text: 'nunito' }, background: { kind: 'sky', mood: 'day', seed: 2 }, sponsors: [] },
    });
  }

  private async library(stationId: string): Promise<Library> {
    const { pieces, looks } = { pieces: await this.pieces.list(stationId), looks: await this.looks.list(stationId) };
    const idOf = (found: { id: string; name: string }[], name: string) => found.find((each) => each.name === name)?.id ?? '';
    const [fell, junior] = [idOf(looks, 'Fell Night'), idOf(looks, 'Junior Dome')];
    return {
      looks: { 'Fell Night': fell, 'Junior Dome': junior },
      domes: { dusk: idOf(pieces, DOMES.dusk), night: idOf(pieces, DOMES.night), day: idOf(pieces, DOMES.day) },
    };
  }

  /** Gives a show its picture as a host would: composed, or taken from the library as it is. */
  private async givePicture(stationId: string, showId: string, artwork: Artwork | null): Promise<void> {
    const { looks, domes } = await this.library(stationId);
    const maren = await this.maren();
    if (!artwork) return this.composer.fromLibrary(maren, showId, 'thumbnail', domes.dusk);
    const { layout, mood, seed, dome = false, line = '', portraits = false } = artwork;
    const recipe: PictureRecipe = {
      ...{ layout, line, portraits, title: '', when: 'day and time', mark: true },
      background: dome ? { kind: 'picture', pieceId: domes[mood] } : { kind: 'sky', mood, seed },
      lookId: looks[mood === 'day' ? 'Junior Dome' : 'Fell Night'],
    };
    await this.composer.plan(maren, showId, recipe);
  }

  /** Whoever makes the station may end as soon as it is made: what was still being made ready would be lost. */
  private async clipsMade(): Promise<void> {
    const { stationId } = await this.maren();
    for (let tries = 0; tries < MOST_TRIES; tries++) {
      if (!(await this.clips.list(stationId)).some(({ state }) => state === 'making')) return;
      await new Promise((next) => setTimeout(next, TRY_EVERY_MS));
    }
  }

  /** What is played into the Dusk Report, of what the library holds. */
  private async duskClips(stationId: string): Promise<ClipInShow[]> {
    const clips = await this.clips.list(stationId);
    const pieces = await this.pieces.list(stationId);
    const found = (from: ClipInShow['from'], all: readonly { id: string; name: string }[], name: string, cue: string | null = null): ClipInShow[] =>
      all.filter((each) => each.name === name).map(({ id }) => ({ id: name, from, item: id, cue, then: 'back' }));
    return [...found('clip', clips, OPENING, 'Opening'), ...found('still', pieces, DOMES.night), ...found('clip', clips, TUNE)];
  }

  private async makeOneDueSoon(): Promise<void> {
    const { stationId } = await this.maren();
    const now = this.clock.now();
    const soon = (await this.database.getRepository(Show).findBy({ stationId, title: 'Dusk Report' })).some(
      (show) => ['placed', 'onAir', 'interrupted'].includes(show.state) && show.startsAt > now && show.startsAt < now + HOUR_MS,
    );
    if (soon) return;
    const usual = ['rm-alderfell', 'tf-alderfell', 'pw-alderfellsky'];
    const channels = (await this.channels.list(stationId)).filter(({ remoteId }) => remoteId !== null && usual.includes(remoteId));
    const people: PersonOnShow[] = [
      MAREN,
      { name: 'Juno Hartsel', role: 'guest', zone: 'Pacific/Auckland', caption: 'School telescope; she/her' },
      { name: 'Tomasz Wren', role: 'guest', zone: 'Asia/Kolkata', caption: 'Counts meteors' },
      { name: 'Dr Oriel Vance', role: 'guest', zone: 'America/Santiago', caption: 'Observatory of the high desert; he/him' },
    ];
    const more = { ...DUSK_REPORT.more, people, clips: await this.duskClips(stationId) };
    const planned = { ...DUSK_REPORT, more, startsAt: Math.ceil((now + DUE_SOON_MS) / GRID_MS) * GRID_MS, channels, place: true };
    await this.placeComing(stationId, planned, await this.makeComing(stationId, planned));
  }

  private comingShows({ library, page, group, guild, handle, hall, hallLineId }: StationChannels): PlannedShow[] {
    const now = this.clock.now();
    const thursday = nextWeekday(now + 2 * DAY_MS, 4, '20:30');
    const [firstNewMoon, ...laterNewMoons] = newMoonFridays(now + 3 * DAY_MS, 6);
    return [
      {
        ...DUSK_REPORT,
        startsAt: thursday,
        channels: [library, page, guild, handle],
        place: false,
        repeats: { pattern: { every: 'week', interval: 1, on: ['TH'] }, ends: { kind: 'never' }, also: [], placesByItself: false },
        more: {
          episode: 41,
          cues: DUSK_CUES,
          room: 'Dome',
          announcements: [
            { id: 'members', place: 'Members’ mail', text: 'We are on air on {start}: {house page}', time: 3 * DAY_MS, channelId: null },
            { id: 'board', place: 'Board in the village hall', text: 'Dusk Report no. {episode}, {start}, with {guests}', time: 7 * DAY_MS, channelId: null },
            { id: 'short', place: handle.name, text: 'Tonight from the fell, in an hour: {house page}', time: HOUR_MS, channelId: handle.id },
          ],
          people: [MAREN, { name: 'Tomasz Wren', role: 'guest', zone: 'Asia/Kolkata', caption: 'Counts meteors' }],
          variants: [
            { channelId: guild.id, title: 'Dusk Report: this week’s sky, with the observers', description: null, choices: {} },
            {
              channelId: handle.id,
              title: null,
              description: 'From the fell {start}. Planets before ten, a comet if the cloud lets us. {watch link}',
              choices: {},
            },
          ],
        },
      },
      {
        // On the same line as the Dusk Report, before that is over.
        title: 'Members’ Evening',
        description: 'For members of the club: the new mirror, the accounts in one minute, and a look at what comes next year.',
        startsAt: thursday + 30 * MINUTE_MS,
        lengthMin: 60,
        channels: [library],
        artwork: { layout: 'slip', mood: 'dusk', seed: 17, line: 'For members of the club' },
        place: false,
        more: {
          houseVisibility: 'invited people',
          people: [MAREN],
          room: 'Video shed',
          variants: [{ channelId: library.id, title: null, description: null, choices: { visibility: 'invited people' } }],
        },
      },
      {
        title: 'Junior Dome Hour',
        description:
          'For young stargazers and whoever brings them. We find three things in the sky that you can see without any telescope, and make one out of card.',
        startsAt: lastSaturday(now, '10:00'),
        lengthMin: 60,
        channels: [library, group],
        artwork: { layout: 'moon', mood: 'day', seed: 7 },
        place: false,
        repeats: { pattern: { every: 'month', interval: 1, nth: -1, on: 'SA' }, ends: { kind: 'count', count: 6 }, also: [], placesByItself: false },
        more: {
          room: 'Dome',
          people: [
            { name: 'Idris Quayle', role: 'host', zone: null },
            { name: 'Juno Hartsel', role: 'guest', zone: 'Pacific/Auckland', caption: 'School telescope; she/her' },
          ],
          variants: [{ channelId: library.id, title: null, description: null, choices: { audience: 'children', messages: 'off' } }],
        },
      },
      {
        title: 'New Moon Night',
        description: 'The darkest night of the month, from dusk to dawn, through the club telescope.',
        startsAt: firstNewMoon!,
        lengthMin: 570,
        channels: [library],
        artwork: { layout: 'horizon', mood: 'night', seed: 3, dome: true, line: 'From dusk to dawn' },
        place: true,
        repeats: {
          pattern: null,
          ends: { kind: 'never' },
          also: laterNewMoons.map((at) => wallTimeOf(instant(at), ZONE).date),
          placesByItself: false,
        },
        more: { room: 'Dome', people: [MAREN] },
      },
      {
        title: 'Occultation of Vesta’s Lamp',
        description:
          'A faint star goes out behind a small planet for eleven seconds. Three observers, three skies: {guests}.\n\nBegins {start}; in Santiago {start in Santiago}.',
        startsAt: nextWeekday(now + 20 * DAY_MS, 2, '21:15'),
        lengthMin: 75,
        channels: [library, guild],
        artwork: { layout: 'row', mood: 'night', seed: 23, portraits: true, line: 'Eleven seconds of dark' },
        place: true,
        more: {
          room: 'Dome',
          cues: OCCULTATION_CUES,
          people: [
            MAREN,
            { name: 'Dr Oriel Vance', role: 'guest', zone: 'America/Santiago', caption: 'Observatory of the high desert; he/him' },
            { name: 'Tomasz Wren', role: 'guest', zone: 'Asia/Kolkata' },
            { name: 'Juno Hartsel', role: 'guest', zone: 'Pacific/Auckland', caption: 'School telescope; she/her' },
          ],
        },
      },
      {
        title: 'Committee Stream',
        description: 'The committee meets in the hall. Members can follow from home.',
        startsAt: nextWeekday(now + 5 * DAY_MS, 1, '19:00'),
        lengthMin: 90,
        channels: [library, hall],
        artwork: null,
        place: true,
        more: {
          houseVisibility: 'link holders',
          pictureFrom: 'encoder',
          lines: [{ channelId: library.id, lineId: hallLineId }],
          variants: [{ channelId: library.id, title: null, description: null, choices: { visibility: 'link holders' } }],
        },
      },
    ];
  }

  private pastShows({ library, page }: StationChannels): PastShow[] {
    const now = this.clock.now();
    const thursday = (weeksAgo: number) =>
      nextWeekday(now - weeksAgo * 7 * DAY_MS - DAY_MS, 4, '20:30') - (nextWeekday(now - weeksAgo * 7 * DAY_MS - DAY_MS, 4, '20:30') > now ? 7 * DAY_MS : 0);
    return [
      { ...DUSK_REPORT, startsAt: thursday(1), channels: [library, page], peaks: [126, 48], faultMin: 0 },
      { ...DUSK_REPORT, startsAt: thursday(2), channels: [library, page], peaks: [97, 55], faultMin: 6 },
      {
        ...WORD_FROM_THE_DOME,
        startsAt: thursday(1) - 2 * DAY_MS,
        channels: [library, page],
        peaks: [44, 19],
        faultMin: 0,
        recorded: true,
        guest: 'Juno Hartsel',
      },
      { ...WORD_FROM_THE_DOME, startsAt: thursday(2) - 2 * DAY_MS, channels: [library, page], peaks: [38, 24], faultMin: 0.4, recorded: true },
      { ...NEW_MOON_NIGHT, startsAt: thursday(2) + DAY_MS, channels: [library, page], peaks: [210, 64], faultMin: 20 },
    ];
  }

  private async makeComing(stationId: string, planned: PlannedShow): Promise<Show> {
    const show = await this.shows.draft(stationId, draftOf(planned));
    await this.givePicture(stationId, show.id, planned.artwork);
    await this.askGuests(show);
    if (planned.repeats) {
      const { pattern, ends, also, placesByItself } = planned.repeats;
      const from = wallTimeOf(instant(planned.startsAt), ZONE).date;
      await this.series.begin(await this.maren(), show.id, { pattern, ends, also: [...also], from, dropped: [], placesByItself });
    }
    return show;
  }

  /** The first has said yes already; the others are still to answer. */
  private async askGuests(show: Show): Promise<void> {
    const by = await this.maren();
    const guests = show.people.filter(({ role }) => role === 'guest');
    for (const { name, caption, zone } of guests) {
      const email = `${name.split(' ').at(-1)!.toLowerCase()}@guests.example`;
      await this.guests.invite(by, show, { name, caption, zone, email });
    }
    const [first] = await this.guests.list(show.id, false);
    const pass = first && (await this.guests.link(by, show, first.id)).url.split('#')[1];
    if (pass) await this.guests.answer({ pass, answer: 'accepted', word: 'With pleasure. I bring a picture.' });
  }

  private async placeComing(stationId: string, planned: PlannedShow, show: Show): Promise<void> {
    if (!planned.place) return;
    const results = await this.placing.place(stationId, show.id).catch((error: Error) => [{ done: false, words: error.message }]);
    for (const { done, words } of results) if (!done) this.log.warn(words);
    if (show.startsAt - this.clock.now() < DAY_MS) await this.askQuestions(show);
  }

  /** What visitors of the house page have asked by then. */
  private async askQuestions({ id }: Show): Promise<void> {
    const { show } = await this.shows.whole((await this.maren()).stationId, id);
    if (!(await this.questions.taken(show))) return;
    for (const [name, words] of QUESTIONS) await this.questions.ask(show, { key: randomBytes(24).toString('hex'), name, words });
  }

  /** A show as it would stand in the books after it was aired; the networks remember that it was there, and kept no recording. */
  private async makePast(stationId: string, past: PastShow): Promise<void> {
    const show = await this.shows.draft(stationId, draftOf(past));
    await this.givePicture(stationId, show.id, past.artwork);
    const startedAt = past.recorded ? past.startsAt : past.startsAt - 8 * MINUTE_MS;
    const endedAt = past.recorded ? startedAt + EVENING_MS : past.startsAt + (past.lengthMin + 3) * MINUTE_MS;
    await this.database.getRepository(Show).update({ id: show.id }, { state: 'over', onAirSince: startedAt, endedAt });
    const { airings } = await this.shows.whole(stationId, show.id);
    for (const [index, { airing, channel }] of airings.entries()) {
      const publicFrom = channel.network === 'reelmoor' ? startedAt + 4_000 : past.startsAt;
      const { id: remoteId, page } = await this.rememberedThere(channel, show, publicFrom, endedAt);
      await this.database
        .getRepository(Airing)
        .update(
          { id: airing.id },
          { placing: 'placed', remoteId, watchUrl: page, endWords: `Ended on ${channel.network === 'reelmoor' ? 'Reelmoor' : 'Townfold'}.` },
        );
      const faultFrom = past.startsAt + (past.recorded ? SEEN.find(({ what }) => what === 'break card')!.atMs : 15 * MINUTE_MS);
      const samples: Partial<AirSampleRow>[] = [];
      const everyMs = past.recorded ? 5_000 : past.lengthMin > 120 ? LONGEST_SAMPLE_GAP_MS : 10_000;
      for (let at = startedAt; at < endedAt; at += everyMs) {
        const failing = index === 0 && past.faultMin > 0 && at >= faultFrom && at < faultFrom + past.faultMin * MINUTE_MS;
        const lamp: Lamp = at < publicFrom ? 'warm' : failing ? 'fault' : 'lit';
        samples.push({ airingId: airing.id, at, lamp, watching: believableCrowd(past.peaks[index] ?? 20, at, publicFrom, endedAt, failing) });
      }
      samples.push({ airingId: airing.id, at: endedAt, lamp: 'out', watching: null });
      await this.database.getRepository(AirSampleRow).insert(samples);
    }
    if (past.recorded) {
      await this.recordPast(show.id, startedAt);
      if (past.guest) await this.guestOfPast(show, startedAt, past.guest);
      await this.askedPast(show, startedAt);
    }
    await this.countVisits(show.id, endedAt, past.peaks[0] ?? 20);
  }

  /** Whom the club had asked to it, and who wanted to be reminded. */
  private async askedPast({ id: showId, startsAt }: Show, startedAt: number): Promise<void> {
    const nobodys = () => ({ id: randomUUID(), showId, tokenHash: randomBytes(24).toString('hex'), toldStart: startsAt, told: '' });
    await this.database.getRepository(Invitation).insert(
      INVITED.map(([name, came]): Invitation => ({
        ...nobodys(),
        ...{ name, email: `${name.toLowerCase().replace(' ', '.')}@people.example`, answer: 'accepted', invitedAt: startsAt - 6 * DAY_MS, leftAt: null },
        cameAt: came ? startedAt + 2 * MINUTE_MS : null,
      })),
    );
    await this.database.getRepository(Registration).insert(
      ['larch', 'sorrel'].map((name) => ({
        ...nobodys(),
        email: `${name}@people.example`,
        zone: ZONE,
        askedAt: startsAt - DAY_MS,
        confirmedAt: startsAt - DAY_MS,
      })),
    );
  }

  private async rememberedThere(channel: Channel, { title, description }: Show, from: number, to: number): Promise<{ id: string; page: string }> {
    const body = { account: channel.remoteId, title, text: description, from: String(Math.round(from)), to: String(Math.round(to)) };
    const reply = await fetch(`${this.settings.networksUrl}/operator/past`, {
      ...{ method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
    });
    if (!reply.ok) throw new Error(`The stand-in networks would not remember a past show: ${reply.status} ${await reply.text()}`);
    return (await reply.json()) as { id: string; page: string };
  }

  /** Who opened the house page, and what led them there. */
  private async countVisits(showId: string, endedAt: number, crowd: number): Promise<void> {
    const days = Math.min(30, Math.floor((this.clock.now() - endedAt) / DAY_MS));
    const share = (part: number) => Math.max(1, Math.round(crowd * part));
    const rows: HouseCount[] = [
      ...VISITS.flatMap(([source, before, live]): HouseCount[] => [
        { showId, what: 'page', day: -2, source, count: share(before) },
        { showId, what: 'page', day: -1, source, count: share(live) },
      ]),
      { showId, what: 'play', day: -1, source: '', count: share(0.5) },
      ...Array.from({ length: days + 1 }, (_, day): HouseCount[] => [
        { showId, what: 'page', day, source: 'mail', count: share(0.3 * Math.exp(-day / 3)) },
        { showId, what: 'play', day, source: '', count: share(0.2 * Math.exp(-day / 3)) },
      ]).flat(),
    ];
    await this.database.getRepository(HouseCount).insert(rows);
  }

  /** The networks tell what they counted; they would have told it day by day. */
  private async countPlays(): Promise<void> {
    await this.plays.now();
    const rows = this.database.getRepository(AiringPlays);
    for (const { airingId, days } of await rows.find()) {
      const last = days.at(-1);
      if (!last) continue;
      const share = (day: number) => (1 - Math.exp(-(day + 1) / 4)) / (1 - Math.exp(-(last.day + 1) / 4));
      const all = Array.from({ length: last.day + 1 }, (_, day) => ({ ...last, day, since: last.since === null ? null : Math.round(last.since * share(day)) }));
      await rows.update({ airingId }, { days: all });
    }
  }

  /** What was seen and said in a short show, as a recording with captions. */
  private async recordPast(showId: string, startedAt: number): Promise<void> {
    const folder = recordingFolder(this.settings, showId);
    await mkdir(folder, { recursive: true });
    // The same evening twice: made once.
    this.evening ??= join(folder, 'recording.mp4');
    if (existsSync(this.evening)) await copyFile(this.evening, join(folder, 'recording.mp4'));
    else await recordEvening(this.settings.ffmpeg, this.evening);
    await this.recordings.become(showId, { state: 'ready', lengthMs: EVENING_MS, parts: [{ fromMs: 0, atMs: 0, lengthMs: EVENING_MS }] });
    const scenes = SEEN.flatMap(({ what, atMs }): Happening[] =>
      what === 'break card'
        ? [{ kind: 'source', what, at: startedAt + atMs }]
        : [
            { kind: 'source', what: 'stage', at: startedAt + atMs },
            { kind: 'scene', what: what === 'host' || what === 'sky' ? 'host' : what, at: startedAt + atMs },
          ],
    );
    const cues = WORD_CUES.map(({ id }, at): Happening => ({ kind: 'cue', what: id, at: startedAt + [15_000, 80_000, 165_000][at]! }));
    await this.happenings.add(
      showId,
      [...scenes, ...cues].sort((a, b) => a.at - b.at),
    );
    await this.captions.keep(showId, 0, 'en', [...EVENING_CAPTIONS]);
    await this.database.getRepository(Show).update({ id: showId }, { houseReplay: true });
  }

  /** Whoever was a guest in it, and let their own sound be kept. */
  private async guestOfPast({ id: showId, stationId }: Show, startedAt: number, name: string): Promise<void> {
    const show = await this.database.getRepository(Show).findOneByOrFail({ id: showId });
    const guestId = await this.guests.comesIn(this.database.manager, show, stationId, name);
    await this.guests.noteOwnSound({ id: guestId, showId }, 'agreed');
    const folder = recordingFolder(this.settings, showId);
    const fresh = join(folder, halfName(guestId, 'demo'));
    const { fromMs } = await takeOfGuest(this.settings.ffmpeg, join(folder, 'recording.mp4'), fresh);
    // Their voice was on its way to the stage for a while.
    const take = takeName({ guestId, beganAt: Math.round(startedAt + fromMs - 340), type: 'webm' });
    await rename(fresh, join(folder, take));
    await this.database.getRepository(Show).update({ id: showId }, { ownSounds: true });
    this.bus.tell({ kind: 'recording', showId });
  }

  /** Links an account over the network's own consent page. */
  private async link(person: Person, network: NetworkId, identityId: string): Promise<Channel> {
    const consentUrl = await this.linking.begin(person, network);
    const answer = await fetch(consentUrl, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ name: 'maren', password: 'lantern-light', answer: 'allow' }),
    });
    const back = new URL(answer.headers.get('location') ?? '', this.settings.publicUrl);
    const link = await this.linking.finishConsent(person, Object.fromEntries(back.searchParams));
    return this.linking.finish(person, link.id, identityId);
  }

  private maren(): Promise<Person> {
    return this.database.getRepository(Person).findOneByOrFail({ email: 'maren@alderfell.example' });
  }
}

const INVITED: readonly (readonly [name: string, came: boolean])[] = [
  ['Ada Fenn', true],
  ['Bram Holt', true],
  ['Dorrit Pell', false],
];

/** What led to the house page, and what share of those who watched came by it: before, and while it was on. */
const VISITS: readonly (readonly [source: string, before: number, live: number])[] = [
  ['mail', 0.25, 0.3],
  ['poster', 0.1, 0.06],
  ['short address', 0.12, 0.1],
  ['', 0.08, 0.09],
];

/** Length in seconds. */
const cue = (name: string, lengthS: number, more: Partial<Cue> = {}): Cue => ({ id: name, name, lengthS, hardAt: null, who: '', notes: '', ...more });
const DUSK_CUES = [
  cue('Opening', 180, { who: HOST, scene: 'host', notes: 'Who we are, where the dome stands, what the night will be like.' }),
  cue('Planets before ten', 840, { who: HOST, scene: 'share', notes: 'Share the chart; Saturn first, it sets at nine.' }),
  cue('The comet, if the cloud lets us', 600, { scene: 'together', notes: 'Cloud: show last week’s pictures instead.' }),
  cue('Your questions', 600),
  cue('Closing', 180, { scene: 'closing', notes: 'Next Thursday, same time. The reminder on the house page.' }),
];
const OCCULTATION_CUES = [
  cue('Opening', 180, { who: HOST, scene: 'host' }),
  cue('Three observers, three skies', 900, { who: 'Dr Oriel Vance, Tomasz Wren, Juno Hartsel', scene: 'together' }),
  cue('How a shadow is timed', 1_320, { who: 'Dr Oriel Vance', scene: 'share' }),
  cue('Eleven seconds of dark', 60, { hardAt: '21:52:09', notes: 'Nobody speaks from 21:52.' }),
  cue('What each of us saw', 1_200),
  cue('Closing', 120, { who: HOST, scene: 'closing' }),
];

const graphic = (kind: Graphic['kind'], text: string, more: string, cue: string | null = null): Graphic => ({
  ...{ id: `${kind} ${text}`.slice(0, 40), kind, text, more, hidesAfterS: kind === 'strap' ? 8 : null, cue, lookedAtFor: null },
});
const DUSK_GRAPHICS = [
  graphic('list', 'Tonight', 'Saturn, low in the west\nThe comet, if it clears\nYour questions', 'Opening'),
  graphic('call', 'What did you see?', '{house page}', 'Your questions'),
  graphic('crawl', 'Dusk Report is made by the neighbours of Alderfell, and the dome is open every clear Thursday. Bring a coat.', ''),
];

const TRY_EVERY_MS = 250;
/** Two minutes: a film of eight seconds takes some five. */
const MOST_TRIES = 480;
const OPENING = 'Opening film';
const TUNE = 'Evening tune';

const WORD_CUES: Cue[] = [
  { id: 'word-opening', name: 'Opening', lengthS: 60, hardAt: null, who: HOST, notes: '' },
  { id: 'word-comet', name: 'The comet', lengthS: 75, hardAt: null, who: HOST, notes: '' },
  { id: 'word-questions', name: 'Your questions', lengthS: 45, hardAt: null, who: HOST, notes: '' },
];

const WORD_FROM_THE_DOME = {
  title: 'Word from the Dome',
  description: 'Four minutes on what the sky does this week, and one question of yours.',
  lengthMin: 5,
  artwork: { layout: 'horizon', mood: 'night', seed: 7, dome: true } satisfies Artwork,
  more: { cues: WORD_CUES, houseVisibility: 'everyone' as const },
};

const NEW_MOON_NIGHT = {
  title: 'New Moon Night',
  description: 'All night under the darkest sky of the month, with breaks for tea.',
  lengthMin: 550,
  artwork: { layout: 'horizon', mood: 'night', seed: 12, dome: true } satisfies Artwork,
};

const DUSK_REPORT = {
  title: 'Dusk Report',
  description:
    'What to look for tonight from the fell: the planets before ten, a comet if the cloud lets us, and your questions.\n\nMaren Tolliver opens the dome at dusk and shows the sky as the club telescope sees it.',
  lengthMin: 40,
  artwork: { layout: 'horizon', mood: 'dusk', seed: 1, dome: true, portraits: true } satisfies Artwork,
  more: { cues: DUSK_CUES, graphics: DUSK_GRAPHICS },
};

/** By name, what visitors of the house page have asked before the show. */
const QUESTIONS: readonly [name: string, words: string][] = [
  ['Orla', 'Is the comet green from Skelldale too, or only in the photographs?'],
  ['Tam', 'How far is it, in words that a child understands?'],
  ['Sorrel', 'Will it come back?'],
];

const MAREN = { name: HOST, role: 'host', zone: null } as const;

const DOMES: Record<SkyMood, string> = { dusk: 'The dome at dusk', night: 'The dome at night', day: 'The dome by day' };

const SPONSORS: Record<string, () => string> = { 'Fell Valley Optics': drawOptics, 'The Cooper’s Loaf': drawLoaf };

const PORTRAITS: [string, Figure][] = [
  ['Dr Oriel Vance', { skin: '#b98260', hair: '#2a2320', coat: '#7a3b3f', behind: '#d9c9a3', cut: 'knot', glasses: true }],
  ['Tomasz Wren', { skin: '#e2b896', hair: '#8a5a34', coat: '#2f5a63', behind: '#c4d3c6', cut: 'short', glasses: false }],
  ['Juno Hartsel', { skin: '#8c5b42', hair: '#1d1b22', coat: '#c08a3c', behind: '#cfd8dd', cut: 'long', glasses: false }],
];

const CONTACTS = [
  { name: 'Ada Fenn', email: 'ada.fenn@people.example', groups: ['Members', 'Dome team'] },
  { name: 'Bram Holt', email: 'bram.holt@people.example', groups: ['Members'] },
  { name: 'Cleo Marsh', email: 'cleo.marsh@school.example', groups: ['Schools'] },
  { name: 'Dorrit Pell', email: 'dorrit.pell@people.example', groups: ['Members', 'Committee'] },
  { name: 'Ewan Strake', email: 'ewan.strake@people.example', groups: ['Members', 'Dome team'] },
  { name: 'Fern Oakley', email: 'fern.oakley@people.example', groups: ['Supporters'] },
  { name: 'Gil Tarrow', email: 'gil.tarrow@people.example', groups: ['Supporters', 'Members'] },
  { name: 'Hale Whitby', email: 'hale.whitby@valley.example', groups: ['Committee', 'Members'] },
];

const CITIES: City[] = [
  { name: 'Alderfell', zone: ZONE },
  { name: 'Santiago', zone: 'America/Santiago' },
  { name: 'Kolkata', zone: 'Asia/Kolkata' },
  { name: 'Auckland', zone: 'Pacific/Auckland' },
];

function draftOf({ title, description, startsAt, lengthMin, channels, more = {} }: Omit<PlannedShow, 'place'>): ShowDraft {
  const wall = wallTimeOf(instant(startsAt), ZONE);
  return { ...BLANK_SHEET, title, description, ...wall, zone: ZONE, lengthMin, channelIds: channels.map(({ id }) => id), ...more };
}

/** A new moon of long ago, and the mean time from one to the next (J. Meeus, Astronomical Algorithms, chapter 49). */
const NEW_MOON = Date.UTC(2000, 0, 6, 18, 14);
const SYNODIC_MS = 29.530588861 * DAY_MS;

/** The Fridays nearest to the next new moons, at dusk. */
function newMoonFridays(from: number, count: number): number[] {
  const fridays: number[] = [];
  for (let moon = NEW_MOON + Math.ceil((from - NEW_MOON) / SYNODIC_MS) * SYNODIC_MS; fridays.length < count; moon += SYNODIC_MS) {
    const friday = nextWeekday(moon - 3.5 * DAY_MS, 5, '20:00');
    if (friday > from) fridays.push(friday);
  }
  return fridays;
}

/** The first `weekday` (0 is Sunday) at `time` on or after the day of `from`, in the station's zone. */
function nextWeekday(from: number, weekday: number, time: string): number {
  for (let day = 0; ; day++) {
    const at = dayAt(from + day * DAY_MS, time);
    if (new Date(`${wallTimeOf(instant(at), ZONE).date}T12:00:00Z`).getUTCDay() === weekday && at >= from) return at;
  }
}

function lastSaturday(from: number, time: string): number {
  for (let at = nextWeekday(from + DAY_MS, 6, time); ; at = nextWeekday(at + DAY_MS, 6, time)) {
    const month = (moment: number) => wallTimeOf(instant(moment), ZONE).date.slice(0, 7);
    if (month(at + 7 * DAY_MS) !== month(at)) return at;
  }
}

function dayAt(at: number, time: string): number {
  const offset = (moment: number) =>
    Date.parse(`${wallTimeOf(instant(moment), ZONE).date}T${wallTimeOf(instant(moment), ZONE).time}:00Z`) - Math.floor(moment / 60_000) * 60_000;
  const wall = Date.parse(`${wallTimeOf(instant(at), ZONE).date}T${time}:00Z`);
  return wall - offset(wall - offset(at));
}

/** People come in the first minutes, a few leave, and some go when the picture does. */
function believableCrowd(peak: number, at: number, from: number, to: number, failing: boolean): number {
  if (at < from) return 0;
  const part = (at - from) / (to - from);
  const come = 1 - Math.exp(-part * 9);
  const wave = 0.93 + 0.07 * Math.sin(at / 190_000);
  return Math.round(peak * come * (1 - 0.25 * part) * wave * (failing ? 0.45 : 1));
}

// Pictures that make themselves: composed from a recipe and the show as it is, and made anew when the show, its look
// or a portrait changes.
import { SHOW_PICTURES, type CompositionPreview, type LetteringView, type LookDraft, type LookPreview, type ShowPictureName } from '@lantern/contract';
import {
  addGrain,
  CAP_HEIGHT,
  composePicture,
  contrastBehind,
  fillPlaceholders,
  instant,
  LETTERING_WIDTH_PX,
  letteringTroubles,
  OWN_LOOK,
  PROGRAMME,
  readableFromPx,
  rgbOf,
  sayDay,
  sayTime,
  type LookChoices,
  type Palette,
  type PictureBackground,
  type PictureDrawing,
  type PictureFacts,
  type PictureRecipe,
  type SkyMood,
} from '@lantern/core';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { Subscription } from 'rxjs';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import type { Person, Station } from '../people/people.entities';
import { AiringsService } from '../shows/airings.service';
import type { Show, ShowPicture } from '../shows/show.entities';
import { isStillPlanned } from '../shows/show-facts';
import { ShowsService } from '../shows/shows.service';
import { pixelsAt, SHAPES, Thumbnails, waitingOf } from '../shows/thumbnails';
import { backgroundSvg, pictureSvg, type PictureAssets } from './draw-picture';
import type { Letters } from './lettering';
import { LooksService } from './looks.service';
import { PiecesService } from './pieces.service';
import { letGo } from '../foundation/let-go';
import { Bus } from '../foundation/bus';
import { SeriesRows } from '../shows/series-rows';
import { ShowRows } from '../shows/show-rows';
import { Clock } from '../foundation/clock';

const WIDTH = 1_920;
const PREVIEW_WIDTH = 960;
/** Somebody may still be typing. */
const SETTLES_MS = 1_200;
/** The version of a picture of which nothing has been drawn yet. */
const NOT_DRAWN = 'undrawn';
/** Part of what a picture is made of: raised when layouts or drawing change, so that coming pictures follow. */
const DRAWN_BY = 5;

type Pictures = Partial<Pick<Show, ShowPictureName | 'thumbnailAlternative'>>;

/** Everything that a picture is drawn from. */
interface Parts {
  recipe: PictureRecipe;
  facts: PictureFacts;
  palette: Palette;
  assets: PictureAssets;
  waiting: boolean;
  madeOf: string;
  withoutPortrait: string[];
}

@Injectable()
export class ComposerService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('pictures');
  private readonly waitingToBeMade = new Map<string, NodeJS.Timeout>();
  /** One after the other for each show: two at once would write the same files. */
  private readonly making = new Map<string, Promise<void>>();
  /** What nobody waits for is made one show after the other: a series has many dates. */
  private queue: Promise<void> = Promise.resolve();
  private heard = new Subscription();

  constructor(
    private readonly showRows: ShowRows,
    private readonly airings: AiringsService,
    private readonly shows: ShowsService,
    private readonly thumbnails: Thumbnails,
    private readonly pieces: PiecesService,
    private readonly looks: LooksService,
    private readonly seriesRows: SeriesRows,
    private readonly clock: Clock,
    private readonly bus: Bus,
  ) {}

  onApplicationBootstrap(): void {
    this.thumbnails.drawMissing = (showId) => this.drawMissing(showId);
    this.heard = this.bus.on('show').subscribe(({ showId }) => this.soon(showId));
    this.heard.add(this.bus.on('library').subscribe(({ stationId }) => letGo('drawing pictures anew', this.allOf(stationId))));
  }

  onApplicationShutdown(): void {
    this.heard.unsubscribe();
    for (const timer of this.waitingToBeMade.values()) clearTimeout(timer);
  }

  /** A composition as it would be, kept nowhere. */
  async preview(person: Person, showId: string, which: ShowPictureName, recipe: PictureRecipe): Promise<CompositionPreview> {
    const { show } = await this.shows.whole(person.stationId, showId);
    await this.check(person.stationId, recipe);
    const parts = await this.parts(show, which, recipe);
    const { png, letters } = await this.draw(parts, PREVIEW_WIDTH, 16 / 9, true);
    const jpeg = await sharp(png).jpeg({ quality: 86 }).toBuffer();
    const { title, when, line, stationName } = parts.facts;
    const { letters: drawnWith } = parts.assets;
    return {
      picture: `data:image/jpeg;base64,${jpeg.toString('base64')}`,
      letters,
      missing: [...new Set([...drawnWith.undrawable(title, 'display'), ...[when, line, stationName].flatMap((text) => drawnWith.undrawable(text))])],
      withoutPortrait: parts.withoutPortrait,
    };
  }

  /** Keeps a composition as one of the show's pictures. A waiting picture follows the thumbnail until it has one of its own. */
  async keep(person: Person, showId: string, which: ShowPictureName, recipe: PictureRecipe): Promise<void> {
    await this.check(person.stationId, recipe);
    await this.change(person, showId, which, async (show) => {
      const pictures: Pictures = { [which]: await this.make(show, which, recipe) };
      if (which === 'thumbnail' && (show.waiting === null || show.waiting.follows)) {
        pictures.waiting = { ...(await this.make(show, 'waiting', recipe)), follows: true };
      }
      if (which === 'thumbnail' && !show.thumbnailAlternative.trim()) pictures.thumbnailAlternative = alternativeOf(await this.facts(show, recipe));
      return pictures;
    });
  }

  /** Notes what a show's picture is composed from; it is drawn when somebody first looks at it, or it goes out. */
  async plan(person: Person, showId: string, recipe: PictureRecipe): Promise<void> {
    await this.check(person.stationId, recipe);
    const { show } = await this.shows.whole(person.stationId, showId);
    const planned = (): ShowPicture => ({ width: WIDTH, height: Math.round((WIDTH * 9) / 16), version: NOT_DRAWN, recipe, madeOf: '', letters: [] });
    const thumbnailAlternative = show.thumbnailAlternative || alternativeOf(await this.facts(show, recipe));
    await this.showRows.setPictures(showId, { thumbnail: planned(), waiting: { ...planned(), follows: true }, thumbnailAlternative });
  }

  /** Has the composed pictures of a show made with another look. Throws where none is composed here. */
  async useLook(person: Person, showId: string, lookId: string): Promise<void> {
    const { show } = await this.shows.whole(person.stationId, showId);
    await this.looks.mustBe(person.stationId, lookId);
    if (!isStillPlanned(show)) throw new PlainError(409, 'This show is on air or over: its pictures stay as they are.');
    if (!(await this.setLook(show, lookId)))
      throw new PlainError(409, 'The pictures of this show came as files, and no look makes them. Compose one on its sheet first.');
  }

  /** Has the composed pictures of a series, and of its dates to come, made with another look. Answers with how many dates that were. */
  async useLookInSeries(person: Person, seriesId: string, lookId: string): Promise<{ title: string; dates: number }> {
    const series = await this.seriesRows.byId(seriesId);
    if (series?.stationId !== person.stationId) throw new PlainError(404, 'There is no such series. It may have been removed.');
    await this.looks.mustBe(person.stationId, lookId);
    const [picture, waiting] = [withLook(series.picture, lookId), withLook(series.waiting, lookId)];
    await this.seriesRows.change(seriesId, { picture, waiting });
    let dates = 0;
    for (const show of await this.showRows.comingOf(seriesId, this.clock.now())) if (await this.setLook(show, lookId)) dates++;
    if (!dates && !picture?.recipe && !waiting?.recipe)
      throw new PlainError(409, 'The pictures of this series came as files, and no look makes them. Compose one on the sheet of a date first.');
    return { title: series.pattern.title, dates };
  }

  private async setLook({ id, thumbnail, waiting }: Show, lookId: string): Promise<boolean> {
    if (!thumbnail?.recipe && !waiting?.recipe) return false;
    await this.showRows.setPictures(id, { thumbnail: withLook(thumbnail, lookId), waiting: withLook(waiting, lookId) });
    this.bus.tell({ kind: 'show', showId: id });
    return true;
  }

  /** A look that may not be kept yet, on the pictures of the show that comes next, or of one that is made up. */
  async previewLook(person: Person, draft: LookDraft): Promise<LookPreview> {
    const look = await this.looks.checked(person.stationId, { ...draft, name: draft.name.trim() || 'A look' });
    const next = (await this.showRows.inState(person.stationId, ['placed', 'draft'])).find(({ startsAt, title }) => startsAt > this.clock.now() && title);
    const recipe: PictureRecipe = {
      ...{ layout: look.cards, background: look.background ?? FIRST_SKY, lookId: null, title: '', when: 'day and time', line: '', portraits: true, mark: true },
    };
    const station = await this.airings.station(person.stationId);
    const facts = next ? await this.facts(next, recipe) : { title: 'Your next show', when: 'Thursday, 20:30', line: '', stationName: station.name, guests: [] };
    const draw = async (which: ShowPictureName) => {
      const parts = await this.partsFor(person.stationId, look, facts, which, recipe);
      const jpeg = await sharp((await this.draw(parts, PREVIEW_WIDTH, 16 / 9)).png)
        .jpeg({ quality: 88 })
        .toBuffer();
      return `data:image/jpeg;base64,${jpeg.toString('base64')}`;
    };
    const [thumbnail, waiting] = await Promise.all([draw('thumbnail'), draw('waiting')]);
    return { thumbnail, waiting };
  }

  /** A drawn sky as it lies behind a programme. */
  async sky(mood: SkyMood, seed: number): Promise<Buffer> {
    const svg = await backgroundSvg(PROGRAMME, { kind: 'sky', mood, seed }, null);
    return sharp(await grained(svg))
      .jpeg({ quality: 92, chromaSubsampling: '4:4:4' })
      .toBuffer();
  }

  private async drawMissing(showId: string): Promise<void> {
    await this.alone(showId, async () => {
      const show = await this.showRows.byId(showId);
      const draw = async (which: ShowPictureName) => {
        const picture = show?.[which];
        if (!show || !picture?.recipe || existsSync(this.thumbnails.path(filesOf(show, which), 'sent'))) return;
        const made = { ...(await this.make(show, which, picture.recipe)), ...(picture.follows && { follows: true }) };
        await this.showRows.setPictures(showId, { [which]: made });
      };
      await Promise.all(SHOW_PICTURES.map(draw));
    });
  }

  /** Takes a picture that came as a file. Throws what is wrong with it; the one before stays then. */
  setFile(person: Person, showId: string, which: ShowPictureName, bytes: Buffer): Promise<void> {
    return this.change(person, showId, which, async (show) => ({ [which]: await this.thumbnails.store(filesOf(show, which), bytes) }));
  }

  /** Early viewers see the thumbnail again, or what is made from its parts. */
  forgetWaiting(person: Person, showId: string): Promise<void> {
    return this.change(person, showId, 'waiting', async (show) => {
      const recipe = show.thumbnail?.recipe;
      return { waiting: recipe ? { ...(await this.make(show, 'waiting', recipe)), follows: true } : null };
    });
  }

  /** Takes a picture, or a composition, of the library for one of the show's own. */
  async fromLibrary(person: Person, showId: string, which: ShowPictureName, pieceId: string): Promise<void> {
    const piece = await this.pieces.piece(person.stationId, pieceId);
    if (piece.recipe) return this.keep(person, showId, which, piece.recipe);
    const file = await this.pieces.file(pieceId);
    if (!file || piece.kind !== 'picture') throw new PlainError(409, 'Only pictures and compositions can be taken for a show.');
    await this.change(person, showId, which, async (show) => {
      const pictures: Pictures = { [which]: { ...(await this.thumbnails.store(filesOf(show, which), file)), pieceId } };
      if (which === 'thumbnail' && piece.alternative && !show.thumbnailAlternative.trim()) pictures.thumbnailAlternative = piece.alternative;
      return pictures;
    });
  }

  /** Makes the pictures of a show anew where it has changed since they were made; with `waits` not those that nobody has looked at yet. */
  async bringUpToDate(showId: string, waits = false): Promise<void> {
    await this.alone(showId, async () => {
      const show = await this.showRows.byId(showId);
      if (!show || (show.state !== 'draft' && show.state !== 'placed')) return;
      const bring = async (which: ShowPictureName) => {
        const picture = show[which];
        if (!picture?.recipe || (waits && picture.version === NOT_DRAWN) || (await this.parts(show, which, picture.recipe)).madeOf === picture.madeOf) return;
        const made = { ...(await this.make(show, which, picture.recipe)), ...(picture.follows && { follows: true }) };
        await this.showRows.setPictures(showId, { [which]: made });
        this.bus.tell({ kind: 'show', showId });
      };
      await Promise.all(SHOW_PICTURES.map(bring));
    });
  }

  /** A card with words of its own in the manner of the show's pictures; `madeOf` says what it is made of without drawing it. */
  async card(show: Show, { title, line }: Pick<PictureRecipe, 'title' | 'line'>, width: number): Promise<{ png: () => Promise<Buffer>; madeOf: string }> {
    const own = show.thumbnail?.recipe;
    const look = await this.lookOf(show);
    const recipe: PictureRecipe = {
      ...{ layout: look.cards, background: own?.background ?? look.background ?? FIRST_SKY, lookId: own?.lookId ?? null },
      ...{ title, when: 'none', line, portraits: false, mark: true },
    };
    const parts = await this.partsFor(show.stationId, look, await this.facts(show, recipe), 'thumbnail', recipe);
    return { png: async () => (await this.draw(parts, width, 16 / 9)).png, madeOf: parts.madeOf };
  }

  /** The recipe drawn for a show, to be kept in the library. */
  async drawn(person: Person, showId: string, recipe: PictureRecipe): Promise<Buffer> {
    const { show } = await this.shows.whole(person.stationId, showId);
    await this.check(person.stationId, recipe);
    return (await this.draw(await this.parts(show, 'thumbnail', recipe), PREVIEW_WIDTH, 16 / 9)).png;
  }

  /**
   * Gives a show other pictures, one change after the other. Making them takes its time, and somebody may be typing on the
   * sheet meanwhile: nothing but the pictures is written. On air it is put right in lists and on event pages.
   */
  private async change(person: Person, showId: string, which: ShowPictureName, work: (show: Show) => Promise<Pictures>): Promise<void> {
    await this.shows.whole(person.stationId, showId); // It must be the station's own.
    await this.alone(showId, async () => {
      const { show } = await this.shows.whole(person.stationId, showId);
      const onAir = show.state === 'onAir' || show.state === 'interrupted';
      if (onAir && which === 'waiting') throw new PlainError(409, 'This show is on air: nobody waits for it any more, and its waiting picture stays as it is.');
      if (!onAir && show.state !== 'draft' && show.state !== 'placed') {
        throw new PlainError(409, 'This show is over or was withdrawn: its pictures stay as they are.');
      }
      await this.shows.write(showId, await work(show), ['thumbnail'], person.name);
    });
    this.bus.tell({ kind: 'show', showId });
  }

  private soon(showId: string): void {
    clearTimeout(this.waitingToBeMade.get(showId));
    const make = () => {
      this.waitingToBeMade.delete(showId);
      const next = () => this.bringUpToDate(showId, true).catch((error: unknown) => this.log.warn(error instanceof Error ? error.message : String(error)));
      this.queue = this.queue.then(next);
    };
    this.waitingToBeMade.set(showId, setTimeout(make, SETTLES_MS));
  }

  private async allOf(stationId: string): Promise<void> {
    const shows = await this.showRows.inState(stationId, ['draft', 'placed']);
    for (const { id } of shows) this.soon(id);
  }

  private async alone(showId: string, work: () => Promise<void>): Promise<void> {
    const before = this.making.get(showId) ?? Promise.resolve();
    const now = before.catch(() => undefined).then(work);
    this.making.set(showId, now);
    try {
      await now;
    } finally {
      if (this.making.get(showId) === now) this.making.delete(showId);
    }
  }

  /** Draws and stores; the caller keeps what is returned with the show. */
  private async make(show: Show, which: ShowPictureName, recipe: PictureRecipe): Promise<ShowPicture> {
    const parts = await this.parts(show, which, recipe);
    const shapes = which === 'waiting' ? SHAPES.slice(0, 1) : SHAPES;
    const each = await Promise.all(shapes.map(async (shape, at) => ({ shape, ...(await this.draw(parts, WIDTH, shape, at === 0)) })));
    const drawn = new Map(each.map(({ shape, png }) => [shape, png]));
    const { letters } = each[0]!;
    return this.thumbnails.storeComposed(filesOf(show, which), drawn, { recipe, madeOf: parts.madeOf, letters });
  }

  private async draw(parts: Parts, width: number, shape: number, measured = false): Promise<{ png: Buffer; letters: LetteringView[] }> {
    const { recipe, facts, palette, assets, waiting } = parts;
    const size = { width, height: Math.round(width / shape) };
    const drawings = composePicture(recipe, facts, palette, { ...size, waiting }, assets.letters.measure);
    const svg = (letters: boolean) => pictureSvg(drawings, size, recipe.background, palette, assets, letters);
    const drawn = await svg(true);
    const png = await sharp(recipe.background.kind === 'colour' ? Buffer.from(drawn) : await grained(drawn))
      .png({ compressionLevel: 3 })
      .toBuffer();
    if (!measured) return { png, letters: [] };
    const behind = await pixelsAt(sharp(Buffer.from(await svg(false))), LETTERING_WIDTH_PX);
    return { png, letters: drawings.flatMap((drawing) => (drawing.kind === 'text' ? [lettering(drawing, size, behind, assets.letters)] : [])) };
  }

  /** The look in which a show's pictures, cards and programme are made. */
  lookOf({ stationId, thumbnail, waiting }: Pick<Show, 'stationId' | 'thumbnail' | 'waiting'>): Promise<LookChoices> {
    return this.looks.ofShow(stationId, waiting?.recipe ? waiting : thumbnail);
  }

  private async parts(show: Show, which: ShowPictureName, recipe: PictureRecipe): Promise<Parts> {
    const look = (await this.looks.one(show.stationId, recipe.lookId)) ?? OWN_LOOK;
    return this.partsFor(show.stationId, look, await this.facts(show, recipe), which, recipe);
  }

  private async partsFor(stationId: string, look: LookChoices, facts: PictureFacts, which: ShowPictureName, recipe: PictureRecipe): Promise<Parts> {
    const { palette, logoId, letters } = look;
    const portraits = recipe.portraits ? await this.pieces.portraits(stationId) : new Map<string, never>();
    const own = facts.guests.map(({ name }) => portraits.get(name.toLowerCase()));
    const background = recipe.background.kind === 'picture' ? await this.pieces.file(recipe.background.pieceId) : null;
    const from = { DRAWN_BY, which, recipe, facts, palette, letters, logo: logoId, portraits: own.map((piece) => piece?.id ?? null) };
    return {
      ...{ recipe, facts, palette, waiting: which === 'waiting' },
      assets: {
        background,
        portraits: await Promise.all(facts.guests.map(async (_, at) => ({ file: own[at] ? await this.pieces.file(own[at].id) : null }))),
        logo: logoId ? await this.pieces.file(logoId) : null,
        letters: await this.looks.letters(look),
      },
      madeOf: createHash('sha256').update(JSON.stringify(from)).digest('base64url'),
      withoutPortrait: recipe.portraits ? facts.guests.filter((_, at) => !own[at]).map(({ name }) => name) : [],
    };
  }

  private async facts(show: Show, recipe: PictureRecipe): Promise<PictureFacts> {
    const station: Station = await this.airings.station(show.stationId);
    const filled = (text: string) => fillPlaceholders(text, this.airings.filling(show, null, station)).text.trim();
    const starts = instant(show.startsAt);
    const day = sayDay(starts, show.zone);
    const when = { none: '', day, 'day and time': `${day}, ${sayTime(starts, show.zone)}` }[recipe.when];
    const guests = show.people.filter(({ role }) => role === 'guest').map(({ name }) => ({ name }));
    return { title: filled(recipe.title.trim() || show.title) || 'Untitled show', when, line: filled(recipe.line), stationName: station.name, guests };
  }

  /** What a recipe points to must be there. */
  private async check(stationId: string, { background, lookId }: PictureRecipe): Promise<void> {
    if (background.kind === 'picture') await this.pieces.piece(stationId, background.pieceId);
    if (lookId !== null && !(await this.looks.one(stationId, lookId))) throw new PlainError(404, 'This look was removed. Choose another.');
  }
}

/** Behind whoever has chosen nothing. */
const FIRST_SKY: PictureBackground = { kind: 'sky', mood: 'dusk', seed: 7 };

function withLook(picture: ShowPicture | null, lookId: string): ShowPicture | null {
  return picture?.recipe ? { ...picture, recipe: { ...picture.recipe, lookId }, madeOf: '' } : picture;
}

/** A drawing with a sky, or with shades, in it: without the edges between its few dark colours. */
async function grained(svg: string): Promise<Buffer> {
  const { data, info } = await sharp(Buffer.from(svg)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  addGrain(data, info.channels);
  return sharp(data, { raw: { width: info.width, height: info.height, channels: info.channels } })
    .png({ compressionLevel: 1 })
    .toBuffer();
}

/** By what the files of a picture go. */
const filesOf = (show: Show, which: ShowPictureName): { id: string } => (which === 'waiting' ? waitingOf(show) : show);

type PictureText = Extract<PictureDrawing, { kind: 'text' }>;

function lettering(
  { role, text, x, y, sizePx, face, colour }: PictureText,
  { width, height }: { width: number; height: number },
  behind: Parameters<typeof contrastBehind>[0],
  letters: Letters,
): LetteringView {
  const box = {
    x: x / width,
    y: (y - sizePx * 0.74) / height,
    width: Math.min(1, letters.measure(text, sizePx, face) / width),
    height: (sizePx * 0.96) / height,
  };
  const line = { box, cap: (sizePx * CAP_HEIGHT) / width, contrast: contrastBehind(behind, box, rgbOf(colour)), title: role === 'title' };
  return { ...line, role, text, readableFromPx: readableFromPx(line), troubles: role === 'station' ? [] : letteringTroubles(line) };
}

function alternativeOf({ title, when, guests }: PictureFacts): string {
  const names = guests.map(({ name }) => name);
  return `${[title, when].filter(Boolean).join(', ')}${names.length ? `; with ${names.join(', ')}` : ''}.`;
}

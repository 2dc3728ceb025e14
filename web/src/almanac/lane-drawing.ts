// Draws the lanes on a canvas: thousands of ribbons keep pace with the hand that way. Everything drawn here
// can also be read in the list and is told to those who listen.
import { clockChanges, DAY_MS, HOUR_MS, instant, nightsBetween, sayTime, startsTaken, type Instant } from '@lantern/core';
import type { ShowSummary } from '@lantern/contract';
import type { Ground } from '../look/ground';
import type { Fold } from './folds';
import { AXIS_HEIGHT, LEAST_WIDTH, ribbonTop, ROW_HEIGHT, ticksOf, type Layout, type Ribbon, type Scale } from './lane-geometry';

/** What the lanes are drawn with: ink on paper by day, dusk where that is preferred, and the reader's own colours where those are forced. */
interface Palette {
  ink: string;
  soft: string;
  paper: string;
  hairline: string;
  fell: string;
  /** On what is filled with `fell` or `lit`. */
  onFell: string;
  brick: string;
  ochre: string;
  lit: string;
  night: string;
  folded: string;
  foldEdge: string;
  strongTick: string;
  weakTick: string;
  ready: string;
  draft: string;
  over: string;
  overEdge: string;
  promise: string;
  hatch: string;
  sweep: string;
}

const DAY: Palette = {
  ...{ ink: '#1d2a2c', soft: '#55605f', paper: '#fbf8f0', hairline: '#d8d0bf', fell: '#17504f', onFell: '#fbf8f0' },
  ...{ brick: '#9c2f1c', ochre: '#7d5200', lit: '#a35c00', night: 'rgba(29, 60, 70, 0.085)' },
  ...{ folded: 'rgba(216, 208, 191, 0.28)', foldEdge: '#b9ae95', strongTick: '#c9c0ab', weakTick: '#e6dfd0' },
  ...{ ready: '#a9c8c0', draft: '#fffdf8', over: '#c9cbbf', overEdge: '#8b8f86', promise: '#8fa9a4' },
  ...{ hatch: 'rgba(85, 96, 95, 0.28)', sweep: 'rgba(23, 80, 79, 0.14)' },
};
const DUSK: Palette = {
  ...{ ink: '#edf1ea', soft: '#a9beba', paper: '#0e2529', hairline: '#31545a', fell: '#8fcabf', onFell: '#0e2529' },
  ...{ brick: '#ff9d86', ochre: '#e4c27d', lit: '#f5ac3d', night: 'rgba(0, 0, 0, 0.24)' },
  ...{ folded: 'rgba(237, 241, 234, 0.05)', foldEdge: '#5f8086', strongTick: '#3d6268', weakTick: '#234349' },
  ...{ ready: '#3f6f6c', draft: '#143238', over: '#33504f', overEdge: '#7d9793', promise: '#5f8086' },
  ...{ hatch: 'rgba(169, 190, 186, 0.26)', sweep: 'rgba(143, 202, 191, 0.2)' },
};
const FORCED: Palette = {
  ...{ ink: 'CanvasText', soft: 'CanvasText', paper: 'Canvas', hairline: 'GrayText', fell: 'CanvasText', onFell: 'Canvas' },
  ...{ brick: 'CanvasText', ochre: 'CanvasText', lit: 'Highlight', night: 'Canvas' },
  ...{ folded: 'Canvas', foldEdge: 'GrayText', strongTick: 'GrayText', weakTick: 'GrayText' },
  ...{ ready: 'GrayText', draft: 'Canvas', over: 'Canvas', overEdge: 'GrayText', promise: 'GrayText' },
  ...{ hatch: 'GrayText', sweep: 'Highlight' },
};

let ground: Ground = 'day';
let colour = DAY;

/** Takes the colours of a ground; the hatching is drawn anew for it. */
function paintOn(wanted: Ground): void {
  if (wanted === ground) return;
  ground = wanted;
  colour = { day: DAY, dusk: DUSK, forced: FORCED }[wanted];
  hatching = null;
}

export interface Moved {
  showId: string;
  startsAt: number;
  lengthMs: number;
  refused: boolean;
}

export interface Scene {
  layout: Layout;
  scale: Scale;
  from: number;
  to: number;
  width: number;
  /** Where nothing is folded. */
  pxPerMs: number;
  folds: readonly Fold[];
  /** A picture that has come in; null: not yet, or there is none. */
  pictureOf: (url: string | null) => CanvasImageSource | null;
  zone: string;
  now: Instant;
  selected: string | null;
  ground: Ground;
  /** Dates of series that have not become shows yet, in order of time: where they will stand. */
  ahead: readonly { startsAt: number; lengthMs: number; lanes: readonly number[] }[];
  moved: Moved | null;
  sweep: { from: number; to: number; top: number; height: number } | null;
}

export function drawLanes(context: CanvasRenderingContext2D, scene: Scene): void {
  paintOn(scene.ground);
  const { layout, scale, from, to, width } = scene;
  context.clearRect(0, 0, width, layout.height);
  context.textBaseline = 'middle';
  drawNights(context, scene);
  drawGround(context, scene);
  drawFolds(context, scene);
  drawAxis(context, scene);
  drawAhead(context, scene);
  // A show of two days may have begun before the first day that is seen.
  const first = firstFrom(layout.ribbons, from - 2 * DAY_MS);
  const threads = new Set<string>();
  for (let index = first; index < layout.ribbons.length; index++) {
    const ribbon = layout.ribbons[index]!;
    if (ribbon.show.startsAt > to) break;
    if (ribbon.show.startsAt + ribbon.show.lengthMs < from && scale(ribbon.show.startsAt) + LEAST_WIDTH < 0) continue;
    const away = scene.moved?.showId === ribbon.show.id;
    if (!threads.has(ribbon.show.id)) {
      threads.add(ribbon.show.id);
      drawThread(context, scene, layout.ofShow.get(ribbon.show.id)!, scale(ribbon.show.startsAt), away);
    }
    drawRibbon(context, scene, ribbon, ribbon.show.startsAt, ribbon.show.lengthMs, away);
  }
  drawLabels(context, scene, first);
  drawReach(context, scene);
  if (scene.moved) {
    const { showId, startsAt, lengthMs } = scene.moved;
    const ribbons = layout.ofShow.get(showId) ?? [];
    drawThread(context, scene, ribbons, scale(startsAt), false);
    for (const ribbon of ribbons) drawRibbon(context, scene, ribbon, startsAt, lengthMs, false);
  }
  if (scene.sweep) {
    const { sweep } = scene;
    context.fillStyle = colour.sweep;
    context.strokeStyle = colour.fell;
    context.setLineDash([4, 3]);
    const left = scale(sweep.from);
    context.fillRect(left, sweep.top, scale(sweep.to) - left, sweep.height);
    context.strokeRect(left, sweep.top, scale(sweep.to) - left, sweep.height);
    context.setLineDash([]);
  }
  drawNow(context, scene);
}

/** Faint outlines: promises of a series, not shows yet. */
function drawAhead(context: CanvasRenderingContext2D, { layout, scale, from, to, ahead }: Scene): void {
  context.strokeStyle = colour.promise;
  context.setLineDash([2, 3]);
  for (const { startsAt, lengthMs, lanes } of ahead) {
    if (startsAt > to) break;
    if (startsAt + lengthMs < from) continue;
    const left = scale(startsAt);
    const w = Math.max(LEAST_WIDTH, scale(startsAt + lengthMs) - left);
    for (const lane of lanes) context.strokeRect(left + 0.5, ribbonTop(layout.lanes[lane]!, 0) + 6.5, w - 1, ROW_HEIGHT - 13);
  }
  context.setLineDash([]);
}

function firstFrom(ribbons: readonly Ribbon[], at: number): number {
  let [low, high] = [0, ribbons.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ribbons[middle]!.show.startsAt < at) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Nights of the station, as long as they can be told apart; worked out once for each stretch of time. */
const nights = new Map<string, { from: number; to: number }[]>();
function nightsOf(zone: string, from: number, to: number): { from: number; to: number }[] {
  const begin = Math.floor(from / (30 * DAY_MS));
  const found: { from: number; to: number }[] = [];
  for (let part = begin; part * 30 * DAY_MS < to; part++) {
    const key = `${zone} ${part}`;
    let known = nights.get(key);
    if (!known) nights.set(key, (known = nightsBetween(zone, instant(part * 30 * DAY_MS), instant((part + 1) * 30 * DAY_MS))));
    found.push(...known);
  }
  return found;
}

function drawNights(context: CanvasRenderingContext2D, { layout, scale, from, to, width, zone }: Scene): void {
  // Stripes as thin as hairs tell nothing.
  if ((width / (to - from)) * 8 * HOUR_MS < 6) return;
  context.fillStyle = colour.night;
  for (const night of nightsOf(zone, from, to))
    context.fillRect(scale(night.from), AXIS_HEIGHT, scale(night.to) - scale(night.from), layout.height - AXIS_HEIGHT);
}

let hatching: CanvasPattern | null = null;
function hatch(context: CanvasRenderingContext2D): CanvasPattern | string {
  if (hatching) return hatching;
  const tile = document.createElement('canvas');
  tile.width = tile.height = 8;
  const pen = tile.getContext('2d')!;
  pen.strokeStyle = colour.hatch;
  pen.beginPath();
  pen.moveTo(-2, 6);
  pen.lineTo(6, -2);
  pen.moveTo(2, 10);
  pen.lineTo(10, 2);
  pen.stroke();
  hatching = context.createPattern(tile, 'repeat');
  return hatching ?? 'rgba(85, 96, 95, 0.12)';
}

/** Lines between lanes, and hatching where a channel takes no start. */
function drawGround(context: CanvasRenderingContext2D, { layout, scale, width, now }: Scene): void {
  for (const { channel, top, height } of layout.lanes) {
    const taken = startsTaken(channel.rules, now);
    context.fillStyle = hatch(context);
    const past = Math.min(width, scale(taken ? taken.from : now));
    if (past > 0) context.fillRect(0, top + 1, past, height - 1);
    if (taken?.to) {
      const far = Math.max(0, scale(taken.to));
      if (far < width) context.fillRect(far, top + 1, width - far, height - 1);
    }
    context.fillStyle = colour.hairline;
    context.fillRect(0, top + height, width, 1);
  }
}

/** The hours that are folded: a narrow band between dotted lines, with how long it is where that has room. */
function drawFolds(context: CanvasRenderingContext2D, { layout, scale, from, to, width, folds }: Scene): void {
  context.font = '12px "Atkinson Hyperlegible Next", sans-serif';
  context.textAlign = 'center';
  for (const fold of folds) {
    if (fold.to < from) continue;
    if (fold.from > to) break;
    const left = scale(fold.from);
    const w = scale(fold.to) - left;
    context.fillStyle = colour.folded;
    context.fillRect(left, AXIS_HEIGHT, w, layout.height - AXIS_HEIGHT - 18);
    if (w < 6) continue;
    context.strokeStyle = colour.foldEdge;
    context.setLineDash([1, 3]);
    for (const x of [left + 0.5, left + w - 0.5]) {
      context.beginPath();
      context.moveTo(x, AXIS_HEIGHT - 10);
      context.lineTo(x, layout.height - 18);
      context.stroke();
    }
    context.setLineDash([]);
    if (w < 14) continue;
    context.fillStyle = colour.soft;
    const hours = `⋯ ${Math.round((fold.to - fold.from) / HOUR_MS)} h`;
    const seen = (Math.max(left, 0) + Math.min(left + w, width)) / 2;
    context.fillText(w > 46 && to - from < 60 * DAY_MS && fold.to - fold.from < 60 * DAY_MS ? hours : '⋯', seen, layout.height - 8);
  }
  context.textAlign = 'left';
}

const isFolded = (folds: readonly Fold[], at: number): boolean => folds.some((fold) => at > fold.from && at < fold.to);

function drawAxis(context: CanvasRenderingContext2D, { layout, scale, from, to, width, pxPerMs, folds, zone }: Scene): void {
  // Days are told apart by the room that they have on the whole, hours by that which they have between folds.
  const perMs = width / (to - from);
  const days = ticksOf(from, to, perMs, zone);
  const hours = folds.length ? ticksOf(from, to, pxPerMs, zone).filter(({ at, strong }) => !strong && !isFolded(folds, at)) : [];
  const ticks = folds.length ? [...days.filter(({ strong }) => strong), ...(perMs * DAY_MS >= 44 ? hours : days.filter(({ strong }) => !strong))] : days;
  context.font = '13px "Atkinson Hyperlegible Next", sans-serif';
  // Each of the two rows of labels is kept legible for itself.
  const free = { strong: -Infinity, weak: -Infinity };
  const strongOnes = ticks.filter(({ strong }) => strong);
  for (const { at, label, strong } of ticks) {
    const x = Math.round(scale(at)) + 0.5;
    context.fillStyle = strong ? colour.strongTick : colour.weakTick;
    context.fillRect(x, strong ? 8 : AXIS_HEIGHT - 8, 1, layout.height);
    const row = strong ? 'strong' : 'weak';
    if (x < free[row]) continue;
    const w = context.measureText(label).width;
    // The day in which the lanes begin is named at their edge, where the next leaves room for it.
    const left = Math.max(x, 0) + 5;
    const next = strongOnes[strongOnes.findIndex((each) => each.at === at) + 1];
    if (x < 0 && (!strong || (next && scale(next.at) < left + w + 8))) continue;
    context.fillStyle = strong ? colour.ink : colour.soft;
    context.textAlign = 'left';
    context.fillText(label, left, strong ? 17 : 35);
    free[row] = left + w + 7;
  }
  context.fillStyle = colour.ink;
  context.fillRect(0, AXIS_HEIGHT - 1, width, 1);
  for (const { at, beforeMs, afterMs } of changesOf(zone, from, to)) {
    const x = scale(at);
    context.strokeStyle = colour.ochre;
    context.setLineDash([5, 4]);
    context.beginPath();
    context.moveTo(x, AXIS_HEIGHT);
    context.lineTo(x, layout.height);
    context.stroke();
    context.setLineDash([]);
    context.fillStyle = colour.ochre;
    context.fillText(`clocks ${afterMs > beforeMs ? 'forward' : 'back'}`, x + 5, 35);
  }
}

const changes = new Map<string, ReturnType<typeof clockChanges>>();
function changesOf(zone: string, from: number, to: number) {
  const year = 366 * DAY_MS;
  const part = Math.floor(from / year);
  const key = `${zone} ${part}`;
  let known = changes.get(key);
  if (!known) changes.set(key, (known = clockChanges(zone, instant(part * year), instant((part + 2) * year))));
  return known.filter(({ at }) => at >= from && at < to);
}

function drawNow(context: CanvasRenderingContext2D, { layout, scale, width, now }: Scene): void {
  const x = Math.round(scale(now));
  if (x < 0 || x > width) return;
  context.fillStyle = colour.ink;
  context.fillRect(x, AXIS_HEIGHT - 8, 1.5, layout.height - AXIS_HEIGHT - 6);
  context.font = '600 12px "Atkinson Hyperlegible Next", sans-serif';
  const said = 'now';
  context.fillStyle = colour.paper;
  context.fillRect(x - 15, layout.height - 14, 30, 14);
  context.fillStyle = colour.ink;
  context.textAlign = 'center';
  context.fillText(said, x, layout.height - 7);
  context.textAlign = 'left';
}

/** One show's ribbons hang together. */
function drawThread(context: CanvasRenderingContext2D, { layout }: Scene, ribbons: readonly Ribbon[], x: number, away: boolean): void {
  if (ribbons.length < 2) return;
  const tops = ribbons.map(({ lane, row }) => ribbonTop(layout.lanes[lane]!, row));
  context.globalAlpha = away ? 0.25 : 0.75;
  context.fillStyle = colour.fell;
  context.fillRect(x + 2, Math.min(...tops) + ROW_HEIGHT / 2, 1.5, Math.max(...tops) - Math.min(...tops));
  context.globalAlpha = 1;
}

const NARROW = 14;

function drawRibbon(
  context: CanvasRenderingContext2D,
  scene: Scene,
  { show, lane, row, placing }: Ribbon,
  startsAt: number,
  lengthMs: number,
  away: boolean,
): void {
  const { layout, scale, selected } = scene;
  const left = scale(startsAt);
  const w = Math.max(LEAST_WIDTH, scale(startsAt + lengthMs) - left);
  const top = ribbonTop(layout.lanes[lane]!, row) + 3;
  const h = ROW_HEIGHT - 7;
  const refused = placing === 'refused' || (scene.moved?.showId === show.id && !away && scene.moved.refused);
  context.globalAlpha = away ? 0.3 : 1;
  if (w < NARROW && !refused && selected !== show.id) {
    // Too narrow for dashes and marks, and the many of a quarter: two rectangles, hollow or full.
    context.fillStyle = show.state === 'over' || placing === 'withdrawn' ? colour.overEdge : colour.fell;
    context.fillRect(left, top, w, h);
    context.fillStyle = fillOf(show, placing);
    context.fillRect(left + 1, top + 1, w - 2, h - 2);
    context.globalAlpha = 1;
    return;
  }
  context.fillStyle = fillOf(show, placing);
  context.fillRect(left, top, w, h);
  context.lineWidth = refused ? 2 : 1;
  context.strokeStyle = refused ? colour.brick : show.state === 'over' || placing === 'withdrawn' ? colour.overEdge : colour.fell;
  const dashed = placing === 'none' || placing === 'withdrawn';
  if (dashed) context.setLineDash([4, 2.5]);
  context.strokeRect(left + 0.5, top + 0.5, w - 1, h - 1);
  if (dashed) context.setLineDash([]);
  if (placing === 'withdrawn') context.fillRect(left, top + h / 2, w, 1.5);
  if (refused && w > 10) {
    context.beginPath();
    context.moveTo(left + 4, top + 4);
    context.lineTo(left + 10, top + 10);
    context.moveTo(left + 10, top + 4);
    context.lineTo(left + 4, top + 10);
    context.stroke();
  }
  if (selected === show.id) {
    context.strokeStyle = colour.ink;
    context.lineWidth = 2.5;
    context.strokeRect(left - 2, top - 2, w + 4, h + 4);
  }
  context.lineWidth = 1;
  context.globalAlpha = 1;
}

function fillOf(show: ShowSummary, placing: Ribbon['placing']): string {
  if (show.state === 'onAir' || show.state === 'interrupted') return colour.lit;
  if (show.state === 'over') return colour.over;
  if (placing === 'placed') return colour.fell;
  if (placing === 'awaits air' || placing === 'awaits reach') return colour.ready;
  return colour.draft;
}

/**
 * For the chosen show: when each channel lets it begin, as a bracket beneath its ribbon, and where the channel would
 * end it, as a notch. Only where these can be told apart from the ribbon itself.
 */
function drawReach(context: CanvasRenderingContext2D, { layout, scale, selected, moved, from, to }: Scene): void {
  if (selected === null || to - from > 8 * DAY_MS) return;
  context.strokeStyle = colour.ochre;
  context.lineWidth = 1.5;
  for (const { show, lane, row } of layout.ofShow.get(selected) ?? []) {
    const { rules } = layout.lanes[lane]!.channel;
    const startsAt = moved?.showId === show.id ? moved.startsAt : show.startsAt;
    const bottom = ribbonTop(layout.lanes[lane]!, row) + ROW_HEIGHT;
    const { earliestMs, latestMs } = rules.startWindow;
    context.beginPath();
    if (earliestMs !== null && latestMs !== null) {
      const [left, right] = [scale(startsAt + earliestMs), scale(startsAt + latestMs)];
      context.moveTo(left, bottom - 4);
      context.lineTo(left, bottom);
      context.lineTo(right, bottom);
      context.lineTo(right, bottom - 4);
    }
    if (rules.longestMs !== null) {
      const end = scale(startsAt + rules.longestMs);
      context.moveTo(end, bottom - ROW_HEIGHT + 3);
      context.lineTo(end, bottom - 4);
    }
    context.stroke();
  }
  context.lineWidth = 1;
}

/** Of a show beside its ribbon, in px. */
const PICTURE = { width: 32, height: 18 };

/** Titles, in the ribbon where they have room, after it where nobody else stands. */
function drawLabels(context: CanvasRenderingContext2D, scene: Scene, first: number): void {
  const { layout, scale, to, width, zone } = scene;
  context.font = '13px "Atkinson Hyperlegible Next", sans-serif';
  const taken = new Map<number, number>();
  const last = layout.ribbons.length;
  // From the end, so that each label knows where the next ribbon of its row begins.
  let end = first;
  while (end < last && layout.ribbons[end]!.show.startsAt <= to) end += 1;
  for (let index = end - 1; index >= first; index--) {
    const { show, lane, row, placing, drifted } = layout.ribbons[index]!;
    const left = scale(show.startsAt);
    const right = left + Math.max(LEAST_WIDTH, scale(show.startsAt + show.lengthMs) - left);
    const key = lane * 1_000 + row;
    const next = taken.get(key) ?? width + 200;
    taken.set(key, left);
    if (right < 0 || scene.moved?.showId === show.id) continue;
    const mark = drifted ? '△ ' : '';
    const time = scene.pxPerMs * HOUR_MS > 16 ? `${sayTime(instant(show.startsAt), zone, false)} ` : '';
    const title = `${mark}${time}${show.title || 'Untitled'}`;
    const inside = right - left - 12;
    const y = ribbonTop(layout.lanes[lane]!, row) + ROW_HEIGHT / 2;
    const x = Math.max(left, 0);
    const needed = context.measureText(title).width;
    // In the ribbon where it fits, or where there is no more room beside it.
    if (inside >= needed || (inside > 44 && next - right - 8 < Math.min(needed, inside))) {
      const solid = placing === 'placed' && show.state !== 'over';
      const live = show.state === 'onAir' || show.state === 'interrupted';
      context.fillStyle = solid || live ? colour.onFell : colour.ink;
      const skip = placing === 'refused' ? 16 : 7;
      context.fillText(clipped(context, title, right - x - skip - 4), x + skip, y);
    } else if (next - right > 26) {
      context.fillStyle = colour.ink;
      const room = next - right - 8;
      const picture = room > needed + PICTURE.width + 8 ? scene.pictureOf(show.pictureUrl) : null;
      if (picture) context.drawImage(picture, right + 4, y - PICTURE.height / 2, PICTURE.width, PICTURE.height);
      const after = right + 4 + (picture ? PICTURE.width + 5 : 0);
      const fit = clipped(context, title, Math.min(190, room));
      if (fit.length > 2) context.fillText(fit, after, y);
    }
  }
}

const widths = new Map<string, number>();
/** The text as far as it has room. Measuring is what costs; each letter's mean width is good enough to begin with. */
function clipped(context: CanvasRenderingContext2D, text: string, room: number): string {
  let width = widths.get(text);
  if (width === undefined) {
    width = context.measureText(text).width;
    if (widths.size > 5_000) widths.clear();
    widths.set(text, width);
  }
  if (width <= room) return text;
  const letters = Math.floor((room / width) * text.length) - 1;
  return letters > 1 ? `${text.slice(0, letters).trimEnd()}…` : '';
}

import fc from 'fast-check';
import { WAITING_COUNTDOWN } from '../artwork/compose';
import { OWN_PALETTE, type Box, type Measure } from '../drawing/drawing';
import { CARD_STYLES, SPONSOR_TURN_MS } from '../looks/look';
import { instant, type Instant } from '../time/instant';
import { layOut, placesOn, sizeWanted, staysUntil, type ProgrammeDrawing, type SceneContent } from './layout';
import { FIRST_SCENES, isPersonSeat, plainScene, sceneOf, SCENE_LAYOUTS, SEATS, type Scene, type Seat } from './scene';
import { COUNTDOWN_PLACE, PROGRAMME, SAFE_MARGIN_PX } from '../drawing/programme';
import { placesFor } from './slots';

/** A face whose every character is half as wide as it is tall. */
const measure: Measure = (text, sizePx) => [...text].length * sizePx * 0.5;
const START = instant(Date.UTC(2026, 10, 26, 20, 30));
const person = (name: string) => ({ name, caption: 'Alderfell Sky Club', seen: true });
const thing = { name: '', caption: '', seen: true };
const content: SceneContent = {
  title: 'Dusk Report',
  stationName: 'Alderfell Sky Club',
  waiting: null,
  startsAt: START,
  zone: 'Europe/Dublin',
  begun: false,
  palette: OWN_PALETTE,
  seated: { host: person('Maren Tolliver') },
  graphic: null,
};
const scene = (id: string): Scene => sceneOf(FIRST_SCENES, id)!;
const holding = scene('holding');
const texts = (drawings: ProgrammeDrawing[]) => drawings.filter((drawing) => drawing.kind === 'text');
const words = (drawings: ProgrammeDrawing[]) => texts(drawings).map(({ text }) => text);
const pictures = (drawings: ProgrammeDrawing[]) => drawings.filter((drawing) => drawing.kind === 'picture');
const apart = (a: Box, b: Box) => a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y;
const inside = (a: Box, b: Box) => a.x >= b.x && a.y >= b.y && a.x + a.width <= b.x + b.width && a.y + a.height <= b.y + b.height;

const anyShape = fc.record({ shape: fc.double({ min: 0.4, max: 3, noNaN: true }), whole: fc.boolean() });
const anyScene = fc.record({
  layout: fc.constantFrom(...SCENE_LAYOUTS),
  seats: fc.uniqueArray(fc.constantFrom(...SEATS), { maxLength: 8 }),
  straps: fc.boolean(),
  bug: fc.boolean(),
});
const made = ({ layout, seats, straps, bug }: { layout: Scene['layout']; seats: Seat[]; straps: boolean; bug: boolean }): Scene => ({
  ...{ id: 'made', name: 'Made', card: layout === 'card' ? 'closing' : null, microphones: 'open', comes: 'cut' },
  ...{ layout, straps, bug, seats: seats.map((seat) => ({ seat, view: null })) },
});

describe('the holding card', () => {
  test('counts down to the start and then says so', () => {
    expect(words(layOut(holding, content, instant(START - 61_000), measure))).toEqual(expect.arrayContaining(['01:01', 'We begin at 20:30 GMT']));
    expect(words(layOut(holding, content, instant(START - 1), measure))).toContain('00:01');
    expect(words(layOut(holding, content, START, measure))).toContain('We begin in a moment');
    // It does not say so for ever.
    const late = words(layOut(holding, content, instant(START + 7 * 60_000), measure));
    expect(late).toEqual(expect.arrayContaining(['We are a little late', 'Planned for 20:30 GMT, 7 min ago']));
    expect(words(layOut(holding, { ...content, begun: true }, instant(START + 7 * 60_000), measure))).toContain('A short pause');
  });

  test('gives the countdown a place to itself', () => {
    const inBox = texts(layOut(holding, { ...content, title: 'A long evening '.repeat(20) }, instant(START - 3_600_000), measure)).filter(
      ({ y, sizePx }) => y > COUNTDOWN_PLACE.y && y - sizePx < 590,
    );
    expect(inBox.map(({ text }) => text)).toEqual(['1:00:00']);
  });

  test.each([true, false])(
    'says nothing that the waiting picture says: only the countdown is drawn on it, at the place that the picture keeps free',
    (keepsPlace) => {
      const withPicture = { ...content, waiting: { url: '/waiting.jpg', keepsPlace }, title: 'Not written twice' };
      for (const toGo of [3_600_000, 61_000, 0, -7 * 60_000, -5 * 3_600_000]) {
        const drawings = layOut(holding, withPicture, instant(START - toGo), measure);
        expect(drawings[0]).toMatchObject({ kind: 'picture', of: 'waiting picture', width: PROGRAMME.width, height: PROGRAMME.height });
        expect(words(drawings)).not.toContain('Not written twice');
        // One that came as a file knows nothing of a countdown: it is given its ground.
        expect(drawings.some((drawing) => drawing.kind === 'plate' && drawing.colour === OWN_PALETTE.ground)).toBe(!keepsPlace);
        const free = WAITING_COUNTDOWN;
        for (const { text, x, y, sizePx, face } of texts(drawings)) {
          expect(x).toBeGreaterThanOrEqual(free.x * PROGRAMME.width);
          expect(x + measure(text, sizePx, face)).toBeLessThanOrEqual((free.x + free.width) * PROGRAMME.width);
          expect(y - sizePx * 0.75).toBeGreaterThanOrEqual(free.y * PROGRAMME.height);
          expect(y).toBeLessThanOrEqual((free.y + free.height) * PROGRAMME.height);
        }
      }
      // Other scenes know nothing of it.
      expect(pictures(layOut(scene('host'), withPicture, START, measure)).map(({ of }) => of)).toEqual(['host']);
    },
  );

  test('has room for a countdown of weeks', () => {
    for (const toGo of [90_000, 5 * 3_600_000, 646 * 3_600_000, 3_000 * 3_600_000]) {
      const [clock] = texts(layOut(holding, { ...content, waiting: { url: '/w', keepsPlace: true } }, instant(START - toGo), measure));
      expect(measure(clock!.text, clock!.sizePx, 'display')).toBeLessThanOrEqual(COUNTDOWN_PLACE.width);
    }
  });
});

describe('what belongs to a look', () => {
  const sponsored = { ...content, sponsors: 3, sponsorsInCorner: true };

  test.each(CARD_STYLES)('a card “%s” keeps the countdown’s place and all that is to be read within the margins', (cards) => {
    for (const title of ['Dusk', 'A long evening '.repeat(20)]) {
      for (const card of [holding, scene('closing')]) {
        const drawn = layOut(card, { ...content, title, cards }, instant(START - 61_000), measure);
        for (const { text, x, y, sizePx, face } of texts(drawn)) {
          expect([x >= SAFE_MARGIN_PX, x + measure(text, sizePx, face) <= PROGRAMME.width - SAFE_MARGIN_PX]).toEqual([true, true]);
          expect([y - sizePx * 0.8 >= 40, y <= PROGRAMME.height - SAFE_MARGIN_PX]).toEqual([true, true]);
        }
        const inPlace = texts(drawn).filter(
          ({ x, y, sizePx }) => x < COUNTDOWN_PLACE.x + COUNTDOWN_PLACE.width && y > COUNTDOWN_PLACE.y + 20 && y - sizePx < 590,
        );
        expect(inPlace.map(({ text }) => text)).toEqual([card === holding ? '01:01' : 'Thank you for watching']);
      }
    }
  });

  test.each([0, 1, 3, 8])('%d sponsors have each a place on their card, none over another and all within the margins', (sponsors) => {
    const card = { ...scene('closing'), card: 'sponsors' as const };
    const drawn = layOut(card, { ...content, sponsors }, START, measure);
    const marks = pictures(drawn).filter(({ of }) => of.startsWith('sponsor '));
    expect(marks.map(({ of }) => of)).toEqual(Array.from({ length: sponsors }, (_, at) => `sponsor ${at}`));
    for (const [at, { x, y, width, height }] of marks.entries()) {
      expect([x >= SAFE_MARGIN_PX, x + width <= PROGRAMME.width - SAFE_MARGIN_PX, y + height <= PROGRAMME.height - SAFE_MARGIN_PX]).toEqual([true, true, true]);
      for (const other of marks.slice(at + 1))
        expect(x + width <= other.x || other.x + other.width <= x || y + height <= other.y || other.y + other.height <= y).toBe(true);
    }
  });

  test('sponsors stand in the corner by turns, with the station’s own mark and never on a card', () => {
    const inCorner = (shown: Scene, now: Instant) =>
      pictures(layOut(shown, sponsored, now, measure))
        .map(({ of }) => of)
        .filter((of) => of.startsWith('sponsor '));
    const turns = Array.from({ length: 4 }, (_, turn) => inCorner(scene('host'), instant(START + turn * SPONSOR_TURN_MS)));
    expect(new Set(turns.flat())).toEqual(new Set(['sponsor 0', 'sponsor 1', 'sponsor 2']));
    expect(turns[3]).toEqual(turns[0]);
    // As long as it says that it stays, it does.
    const until = staysUntil(scene('host'), sponsored, instant(START + 100));
    expect(inCorner(scene('host'), instant(until - 1))).toEqual(inCorner(scene('host'), instant(START + 100)));
    expect(inCorner(scene('host'), instant(until))).not.toEqual(inCorner(scene('host'), instant(START + 100)));
    for (const without of [{ ...scene('host'), bug: false }, holding]) expect(inCorner(without, START)).toEqual([]);
    expect(staysUntil(scene('host'), { ...sponsored, sponsorsInCorner: false }, START)).toBe(Infinity);
  });
});

test('every layout has a place for each of up to eight pictures of any shape, none over another unless it is inset', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...SCENE_LAYOUTS.filter((layout) => layout !== 'card' && layout !== 'one')),
      fc.array(anyShape, { minLength: 1, maxLength: 8 }),
      (layout, all) => {
        const places = placesFor(layout, all);
        expect(places).toHaveLength(all.length);
        places.forEach((place, at) => {
          expect(inside(place, { x: 0, y: 0, ...PROGRAMME })).toBe(true);
          // Large enough to know somebody by.
          expect(Math.max(place.width, place.height)).toBeGreaterThan(60);
          const { shape, whole } = all[at]!;
          if (whole && (layout !== 'inset' || at === 0)) expect(Math.abs(place.width - place.height * shape)).toBeLessThanOrEqual(Math.max(1, shape) + 0.5);
          const laidOver = layout === 'inset' ? places.slice(1) : places;
          for (const other of laidOver) if (other !== place && (layout !== 'inset' || at > 0)) expect(apart(place, other)).toBe(true);
        });
      },
    ),
    { numRuns: 400, seed: 13 },
  );
});

test('two are as large as each other; the one that leads is larger than all who stand beside it', () => {
  const faces = (count: number) => Array.from({ length: count }, () => ({ shape: 16 / 9, whole: false }));
  const [one, other] = placesFor('row', faces(2));
  expect([one!.width, one!.height]).toEqual([other!.width, other!.height]);
  for (const count of [2, 3, 7]) {
    const [first, ...rest] = placesFor('lead', [{ shape: 16 / 9, whole: true }, ...faces(count - 1)]);
    for (const each of rest) expect(each.width * each.height).toBeLessThan((first!.width * first!.height) / 3);
  }
  // Six in two rows of three, not in one of six.
  expect(new Set(placesFor('grid', faces(6)).map(({ y }) => y)).size).toBe(2);
});

test('whatever is written stays inside the margins, and a name within its own picture', () => {
  fc.assert(
    fc.property(anyScene, fc.string({ maxLength: 400 }), fc.string({ maxLength: 200 }), fc.boolean(), (drafted, title, name, seen) => {
      const seated = Object.fromEntries(SEATS.map((seat) => [seat, isPersonSeat(seat) ? { ...person(name), seen } : thing]));
      const drawn = made(drafted);
      const drawings = layOut(drawn, { ...content, title, seated }, instant(START - 90_000), measure);
      for (const { text, x, y, sizePx, face } of texts(drawings)) {
        expect(x).toBeGreaterThanOrEqual(SAFE_MARGIN_PX);
        expect(x + measure(text, sizePx, face)).toBeLessThanOrEqual(PROGRAMME.width - SAFE_MARGIN_PX);
        expect(y).toBeLessThanOrEqual(PROGRAMME.height - SAFE_MARGIN_PX);
        expect(y - sizePx).toBeGreaterThanOrEqual(0);
        if (drawn.layout !== 'card') {
          const places = drawings.filter(
            (each): each is ProgrammeDrawing & Box => (each.kind === 'picture' && each.of !== 'background') || (each.kind === 'plate' && each.height > 60),
          );
          expect(places.some((place) => inside({ x, y: y - sizePx * 0.7, width: measure(text, sizePx, face), height: sizePx * 0.7 }, place))).toBe(true);
        }
      }
    }),
    { numRuns: 300, seed: 5 },
  );
});

test('a seat that nobody fills takes no room; one whose camera is gone keeps its place, with a name', () => {
  const together = scene('together');
  const alone = layOut(together, content, START, measure);
  expect(pictures(alone)).toEqual([expect.objectContaining({ of: 'host', width: PROGRAMME.width })]);
  const two = { ...content, seated: { ...content.seated, 'guest 1': person('Tomasz Wren') } };
  expect(pictures(layOut(together, two, START, measure)).map(({ of }) => of)).toEqual(['background', 'host', 'guest 1']);
  const gone = layOut(together, { ...two, seated: { ...two.seated, 'guest 1': { ...person('Tomasz Wren'), seen: false } } }, START, measure);
  expect(pictures(gone).map(({ of }) => of)).toEqual(['background', 'host']);
  expect(gone).toContainEqual(expect.objectContaining({ kind: 'portrait', name: 'Tomasz Wren' }));
  expect(words(gone)).toContain('Tomasz Wren');
  // Nobody at all: the evening sky, and no hole.
  expect(pictures(layOut(together, { ...content, seated: {} }, START, measure)).map(({ of }) => of)).toEqual(['background']);
});

test('what is shared is seen whole, in its own shape, with the faces beside it', () => {
  const shared = { ...content, seated: { ...content.seated, share: thing } };
  const share = (shape: number) => pictures(layOut(scene('share'), shared, START, measure, { share: shape })).find(({ of }) => of === 'share')!;
  expect(share(4 / 3)).toMatchObject({ fit: 'whole' });
  expect(share(4 / 3).width / share(4 / 3).height).toBeCloseTo(4 / 3, 1);
  expect(share(0.5).width / share(0.5).height).toBeCloseTo(0.5, 1);
  expect(share(16 / 9).width).toBeGreaterThanOrEqual(900);
});

test('a picture is asked for as large as it is drawn, and no larger', () => {
  const filled = (seat: Seat) => seat === 'host' || seat === 'share';
  const wanted = (id: string) => Object.fromEntries(placesOn(scene(id), filled).map((seat) => [seat.seat, sizeWanted(seat)]));
  expect(wanted('host')).toEqual({ host: { width: 1280, height: 720 } });
  const { share, host } = wanted('share');
  const [{ place }, { place: face }] = placesOn(scene('share'), filled) as unknown as [{ place: Box }, { place: Box }];
  expect([share!.height, host!.height]).toEqual([place.height, face.height]);
  expect(host!.width).toBeGreaterThanOrEqual(face.width);
  // Enlarged, it has to bring more, and never more than a programme has.
  expect(sizeWanted({ seat: 'host', view: { zoom: 2, x: 0.5, y: 0.5 }, place: face }).height).toBe(2 * face.height);
  expect(sizeWanted({ seat: 'host', view: { zoom: 4, x: 0.5, y: 0.5 }, place: face })).toEqual({ width: 1280, height: 720 });
});

test('a scene that is not laid out anew before it has to be is never behind', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...FIRST_SCENES),
      fc.boolean(),
      fc.integer({ min: -4 * 3_600_000, max: 4 * 3_600_000 }),
      fc.double({ min: 0, max: 0.999, noNaN: true }),
      (drawn, begun, sinceStart, share) => {
        const now = instant(START + sinceStart);
        const shown = { ...content, begun };
        const until = staysUntil(drawn, shown, now);
        expect(until).toBeGreaterThan(now);
        const later = instant(until === Infinity ? now + Math.floor(share * 86_400_000) : now + Math.floor(share * (until - now)));
        expect(layOut(drawn, shown, later, measure)).toEqual(layOut(drawn, shown, now, measure));
      },
    ),
    { seed: 20261126 },
  );
});

describe('a column of messages', () => {
  const written = (count: number) =>
    Array.from({ length: count }, (_, at) => ({ name: `Viewer ${at + 1}`, words: `Message ${at + 1}, and what belongs to it` }));
  const seats = { host: person('Maren Tolliver'), 'guest 1': person('Juno Hartsel'), share: thing };

  test('stands on nobody: whoever is seen makes room for it, on any scene', () => {
    fc.assert(
      fc.property(anyScene, (drawn) => {
        const withIt = { ...made({ ...drawn, layout: drawn.layout === 'card' ? 'one' : drawn.layout }), messages: true };
        const all = layOut(withIt, { ...content, seated: Object.fromEntries(drawn.seats.map((seat) => [seat, thing])), messages: written(3) }, START, measure);
        const left = all.find((drawing) => drawing.kind === 'plate' && drawing.height === PROGRAMME.height && drawing.width > 300) as Box;
        for (const picture of pictures(all).filter(({ of }) => of !== 'background')) expect(apart(picture, left)).toBe(true);
      }),
    );
  });

  test('has the newest at its foot, as many as there is room for, within the margins and above what is laid over the scene', () => {
    const withIt = { ...scene('together'), messages: true };
    const drawn = (graphic: SceneContent['graphic'] = null) => layOut(withIt, { ...content, seated: seats, messages: written(20), graphic }, START, measure);
    const of = (all: ProgrammeDrawing[]) => texts(all).filter(({ text }) => /^(Viewer|Message)/.test(text));
    const said = of(drawn());
    expect(Math.max(...said.map(({ y }) => y))).toBe(said.find(({ text }) => text.startsWith('Message 20'))!.y);
    expect(said.length).toBeGreaterThan(4);
    for (const { x, y, text, sizePx } of texts(drawn()).filter(({ x }) => x > PROGRAMME.width - 344)) {
      expect(x + measure(text, sizePx, 'text')).toBeLessThanOrEqual(PROGRAMME.width - SAFE_MARGIN_PX);
      expect(y).toBeLessThanOrEqual(PROGRAMME.height - SAFE_MARGIN_PX);
      expect(y).toBeGreaterThan(SAFE_MARGIN_PX);
    }
    const under = of(drawn({ kind: 'crawl', text: 'The moon rises', more: '', id: 'g', since: START }));
    expect(Math.max(...under.map(({ y }) => y))).toBeLessThan(Math.max(...said.map(({ y }) => y)));
  });

  test('takes no room where nothing was written, on a scene without it, and on a card', () => {
    const plain = scene('together');
    const without = layOut(plain, { ...content, seated: seats }, START, measure);
    expect(layOut({ ...plain, messages: true }, { ...content, seated: seats, messages: [] }, START, measure)).toEqual(without);
    expect(layOut(plain, { ...content, seated: seats, messages: written(3) }, START, measure)).toEqual(without);
    expect(plainScene({ ...holding, messages: true })).not.toHaveProperty('messages');
    expect(plainScene({ ...plain, messages: true })).toMatchObject({ messages: true });
  });
});

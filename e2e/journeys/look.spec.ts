// What an evening looks like: scenes made and used, a screen shared and no longer shared, a camera that is gone.
import type { ArtworkView, ClipView, LookView, PlaceResult, SceneView, ShowView } from '@lantern/contract';
import { soonestStart } from '../support/host';
import { difference, download, meanVolumeDb, pictures, whiteFilm } from '../support/media';
import { barriers, expect, lampOf, openStage, stageReady, test } from '../support/test';

/** Beside a single face, and within what is shared. */
const OVER_THE_SHOULDER = { x: 700, y: 150, width: 120, height: 60 };
/** Of whoever helps, on the stages whose look says so. */
const SPONSOR = { x: 72, y: 50, width: 150, height: 60 };
const NAME = { x: 64, y: 556, width: 280, height: 100 };

const mean = (grey: Buffer) => grey.reduce((sum, each) => sum + each, 0) / grey.length;

test('a scene is made and is there on an open stage; the count ends in the first scene; a share comes and goes; a running order is run; a camera that is gone leaves a name', async ({
  page,
  product,
  host,
  context,
}) => {
  await host.setUp();
  const startsAt = soonestStart(product.now());
  const draft = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, [await host.link('reelmoor', 'rm-alderfell')]));
  const { show } = await host.must<PlaceResult>('POST', `/api/shows/${draft.id}/place`);
  await host.lendTo(context);

  await test.step('a rehearsal: the whole way is gone, its end takes it, and nobody was asked for anything', async () => {
    const before = await product.visits();
    await page.goto(`${product.url}/shows/${show.id}#rehearsal`);
    await page.getByRole('button', { name: 'Rehearse now' }).click();
    await expect(page.getByRole('heading', { name: /^Rehearsal/ })).toBeVisible();
    await stageReady(page);
    const rehearsalId = new URL(page.url()).pathname.split('/')[2]!;
    await page.getByRole('button', { name: 'Begin the rehearsal' }).click();
    await page.keyboard.press('Space');
    const arrives = page.getByRole('region', { name: 'What arrives' });
    await expect(arrives).toContainText(/1280×720, \d+ pictures a second, .* a key frame every 1\.\d s, AAC/, { timeout: 40_000 });
    // A drawn host moves little: the channel's rule is held against what really arrives.
    await expect(arrives).toContainText(/Asks for at least 2,500 kbit\/s; [\d,]+ kbit\/s arrive/);
    expect(await barriers(page)).toEqual([]);
    const [seen] = await Promise.all([context.waitForEvent('page'), arrives.getByRole('link', { name: /^See it/ }).click()]);
    await expect(seen.getByRole('status')).toContainText(/^\d+\.\d s behind/, { timeout: 30_000 });
    await seen.close();
    await page.getByRole('button', { name: 'End it…' }).click();
    await page.getByRole('button', { name: 'End it', exact: true }).click();
    await expect(page.getByText('It reached nobody')).toBeVisible();
    const recorded = () => host.ask<Buffer>('GET', `/api/shows/${rehearsalId}/recording.mp4`);
    await expect.poll(async () => (await recorded()).status).toBe(200);
    // The show stands as it stood, and its page says nothing of it.
    expect((await host.must<ShowView>('GET', `/api/shows/${show.id}`)).state).toBe('placed');
    expect(await product.visits()).toEqual(before);
  });

  product.travelTo(startsAt - 60_000);
  await context.addInitScript(() => {
    const known = window as unknown as { opened: MediaStream[]; shared: MediaStream };
    known.opened = [];
    const { mediaDevices } = navigator;
    const share = mediaDevices.getDisplayMedia.bind(mediaDevices);
    mediaDevices.getDisplayMedia = async (wanted) => (known.shared = await share(wanted));
    const real = mediaDevices.getUserMedia.bind(mediaDevices);
    mediaDevices.getUserMedia = async (wanted) => {
      const stream = await real(wanted);
      known.opened.push(stream);
      return stream;
    };
  });
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  const caption = page.locator('.caption').first();
  const scenes = page.getByRole('group', { name: 'What comes next' });

  const editor = await context.newPage();
  await test.step('another scene, seen moving while it is made', async () => {
    await editor.goto(`${product.url}/scenes`);
    await editor.getByRole('link', { name: 'Talking together' }).click();
    const seen = editor.getByLabel('Talking together, with people who are drawn');
    await expect.poll(() => seen.evaluate((video: HTMLVideoElement) => video.currentTime)).toBeGreaterThan(0.5);
    await editor.getByRole('button', { name: 'Make another from it' }).click();
    await expect(editor.getByLabel('Name', { exact: true })).toHaveValue('Talking together 2');
    await editor.getByLabel('Name', { exact: true }).fill('');
    await editor.getByRole('button', { name: 'Keep' }).click();
    await expect(editor.getByText('Give the scene a name.').first()).toBeVisible();
    await editor.getByLabel('Name', { exact: true }).fill('At the desk');
    await editor.getByLabel('The first large, others beside').check();
    await editor.getByLabel('Comes by a short dissolve, not by a cut').check();
    // Going to another scene and back loses nothing of it.
    await editor.getByRole('link', { name: 'Welcome' }).click();
    await editor.getByRole('link', { name: 'At the desk Not kept yet' }).click();
    expect(await barriers(editor)).toEqual([]);
    // The stage's other scenes are as they were until it is kept.
    await expect(scenes.getByRole('button', { name: 'Talking together 2' })).toBeVisible();
    await editor.getByRole('button', { name: 'Keep' }).click();
    await expect(editor.getByText('Kept', { exact: true })).toBeVisible();
    await expect(scenes.getByRole('button', { name: 'At the desk' })).toBeVisible();
    await editor.close();
  });

  await test.step('on air with a drawn host; the count is seen here, and at its end the first scene comes by itself; arrows choose', async () => {
    await page.bringToFront();
    await page
      .getByText(/Fake|fake_device/)
      .first()
      .click();
    await page.getByLabel('Camera', { exact: true }).selectOption('drawn');
    await expect(page.getByText('A drawn host')).toBeVisible();
    product.travelTo(startsAt - 18_000);
    await page.reload();
    await stageReady(page);
    await expect(page.getByText('A drawn host')).toBeVisible();
    await page.getByLabel(/“Welcome” comes by itself, and microphones open/).check();
    await page.getByRole('button', { name: 'Go on air' }).click();
    await expect(caption).toContainText('Microphones are shut');
    await expect(page.getByRole('timer', { name: 'Seconds to the start' })).toHaveText(/^[1-9]$/);
    await expect(page.getByText('Your microphone is open now')).toBeVisible();
    await expect(caption).toContainText('Welcome');
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    for (let press = 0; press < 3; press++) await page.keyboard.press('ArrowDown');
    // What nobody and nothing fills is passed over.
    await expect(scenes.getByRole('button', { pressed: true })).not.toHaveText('Outside line');
    await page.waitForTimeout(3_000);
  });

  await test.step('graphics by keys alone: prepared meanwhile, shown, and hidden', async () => {
    const graphic = { kind: 'call', text: 'Send us your times', more: 'alderfell.example', hidesAfterS: null, cue: null, lookedAtFor: null };
    const { version } = await host.must<{ version: number }>('GET', `/api/shows/${show.id}`);
    await host.must('PATCH', `/api/shows/${show.id}`, { base: version, changes: { graphics: [{ id: 'g', ...graphic }] } });
    const graphics = page.getByRole('region', { name: 'Graphics' });
    await expect(graphics.getByRole('button', { name: 'Show “Send us your times”' })).toBeEnabled();
    await page.keyboard.press('g');
    await expect(graphics).toContainText('“Send us your times” is shown');
    await page.waitForTimeout(3_000);
    await page.keyboard.press('Shift+G');
    await expect(graphics).not.toContainText('is shown');
    await page.waitForTimeout(2_500);
  });

  await test.step('a share brings its scene, and takes it away again', async () => {
    await page.keyboard.press('s');
    await expect(caption).toContainText('Share with faces');
    await expect(page.getByText(/is shared|are shared/)).toBeVisible();
    // Its first picture may take a second to come.
    await page.waitForTimeout(4_500);
    await page.keyboard.press('s');
    await expect(caption).toContainText('Welcome');
    await page.waitForTimeout(3_000);
  });

  await test.step('a share that is ended elsewhere, as by the browser’s own bar, makes way by itself, and is said to have ended', async () => {
    await page.keyboard.press('s');
    await expect(caption).toContainText('Share with faces');
    await page.evaluate(() => {
      const [track] = (window as unknown as { shared: MediaStream }).shared.getVideoTracks();
      track!.stop();
      // What browsers do where it was not the page that stopped it.
      track!.dispatchEvent(new Event('ended'));
    });
    await expect(page.getByText('What you shared has ended.')).toBeVisible();
    await expect(caption).toContainText('Welcome');
  });

  await test.step('a reload in the middle of a share: it is gone, and its scene shows who is left', async () => {
    await page.getByRole('button', { name: 'Share a screen…' }).click();
    await expect(caption).toContainText('Share with faces');
    await page.reload();
    await expect(caption).toContainText('Share with faces', { timeout: 30_000 });
    await expect(page.getByRole('button', { name: 'Share a screen…' })).toBeVisible();
    await scenes.getByRole('button', { name: 'Welcome' }).click();
    await page.keyboard.press('Space');
    await expect(caption).toContainText('Welcome');
  });

  await test.step('a running order that is planned meanwhile is run: each take begins a cue, one of them over', async () => {
    const cue = (id: string, name: string, lengthS: number, scene: string) => ({ id, name, lengthS, scene, hardAt: null, who: '', notes: `Notes of ${name}.` });
    const cues = [cue('a', 'Opening', 600, 'host'), cue('b', 'The comet', 2, 'together'), cue('c', 'Farewell', 60, 'closing')];
    const { version } = await host.must<{ version: number }>('GET', `/api/shows/${show.id}`);
    await host.must('PATCH', `/api/shows/${show.id}`, { base: version, changes: { cues } });
    const order = page.getByRole('region', { name: 'Running order' });
    await expect(order).toContainText('By the plan: Opening');
    await expect(order.getByRole('button', { name: /A take begins “Opening”/ })).toHaveAttribute('aria-pressed', 'true');
    await page.keyboard.press('Space');
    await expect(order).toContainText(/Opening, [89]:\d\d left; then The comet\./);
    // Another scene may come in between, and the cue waits.
    await scenes.getByRole('button', { name: 'At the desk' }).click();
    await page.keyboard.press('Space');
    await expect(caption).toContainText('At the desk');
    await expect(order).toContainText('then The comet.');
    // A press that was two begins one cue.
    await page.waitForTimeout(600);
    // As a key bounces: within the page, since a busy machine takes its time from one press of a journey to the next.
    await page.evaluate(async () => {
      for (const afterMs of [0, 80]) {
        await new Promise((next) => setTimeout(next, afterMs));
        for (const type of ['keydown', 'keyup']) document.body.dispatchEvent(new KeyboardEvent(type, { key: ' ', bubbles: true, cancelable: true }));
      }
    });
    await expect(caption).toContainText('Talking together');
    await expect(order).toContainText(/The comet, 0:0\d over; then Farewell\. .* early\./);
    await expect(order).toContainText('Notes of The comet.');
    // A stage that is opened again finds the cue as it was, and what was laid over the picture.
    const graphics = page.getByRole('region', { name: 'Graphics' });
    await graphics.getByText(/^All/).click();
    await graphics.getByRole('button', { name: 'Send us your times', exact: true }).click();
    await expect(graphics).toContainText('“Send us your times” is shown');
    await page.reload();
    await expect(graphics).toContainText('“Send us your times” is shown', { timeout: 30_000 });
    await page.keyboard.press('Shift+G');
    await expect(order).toContainText(/The comet, 0:\d\d over; then Farewell\./, { timeout: 30_000 });
    await expect(caption).toContainText('Talking together');
    await expect(order.getByRole('button', { name: /A take begins “Farewell”/ })).toBeVisible();
  });

  await test.step('a clip is played by its key, taken up again by a stage that is reloaded in the middle of it, and makes way', async () => {
    const clips = await host.must<ClipView[]>('POST', '/api/clips?name=Moonrise', await whiteFilm(test.info().outputPath('moonrise.mp4'), 9));
    const ready = async () => (await host.must<ClipView[]>('GET', '/api/clips')).find(({ id }) => id === clips[0]!.id)!;
    await expect.poll(async () => (await ready()).state).toBe('ready');
    const { version } = await host.must<ShowView>('GET', `/api/shows/${show.id}`);
    const planned = { id: 'film', from: 'clip', item: clips[0]!.id, cue: null, then: 'back' };
    await host.must('PATCH', `/api/shows/${show.id}`, { base: version, changes: { clips: [planned] } });
    const onStage = page.getByRole('region', { name: 'Clips' });
    await expect(onStage).toContainText('Nobody has said whose “Moonrise” is.');
    await expect(onStage.getByRole('button', { name: 'Play “Moonrise”' })).toBeEnabled();
    await page.keyboard.press('p');
    await expect(onStage).toContainText(/“Moonrise” plays 00:0[789] left/);
    await expect(caption).toContainText('Clip');
    await expect(caption).toContainText('Microphones are shut');
    await page.waitForTimeout(1_500);
    await page.reload();
    await expect(onStage).toContainText(/“Moonrise” plays 00:0[1-6] left/, { timeout: 30_000 });
    await expect(caption).toContainText('Talking together', { timeout: 15_000 });
    await expect(onStage).not.toContainText('plays');
    await page.waitForTimeout(2_000);
  });

  await test.step('a look that is chosen for the station meanwhile: its sponsors stand in the corner, and its sting has a key', async () => {
    const paper = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="300" height="100"><rect width="300" height="100" fill="#fff"/></svg>');
    const { pieces } = await host.must<ArtworkView>('POST', '/api/artwork?kind=logo&name=Fell%20Valley%20Optics', paper);
    const [film] = await host.must<ClipView[]>('GET', '/api/clips');
    const palette = { ground: '#0c2227', ink: '#fbf8f0', accent: '#e7cf9a' };
    const sponsored = { sponsors: pieces.map(({ id }) => id), sponsorsInCorner: true, stingId: film!.id };
    const { id } = await host.must<LookView>('POST', '/api/looks', {
      name: 'Fell Night',
      palette,
      letters: { display: 'fraunces', text: 'nunito' },
      ...sponsored,
    });
    await host.must('PUT', '/api/looks/of-station', { lookId: id });
    const clips = page.getByRole('region', { name: 'Clips' });
    await expect(clips.getByRole('button', { name: 'Sting' })).toBeEnabled();
    await page.waitForTimeout(2_000);
    await page.keyboard.press('i');
    await expect(clips).toContainText('“Moonrise” plays');
    await page.waitForTimeout(1_000);
    await page.keyboard.press('Shift+P');
    await expect(caption).toContainText('Talking together');
    await page.waitForTimeout(1_000);
  });

  await test.step('a scene that is other in this show alone is there on its stage, and gone from it again', async () => {
    const own = await context.newPage();
    await own.goto(`${product.url}/shows/${show.id}#graphics`);
    await own.getByRole('link', { name: 'Make one other for this show' }).click();
    await own.getByRole('link', { name: 'Talking together' }).click();
    // Before it is there, what is typed is the name of the scene before.
    await expect(own.getByLabel('Name', { exact: true })).toHaveValue('Talking together');
    await own.getByLabel('Name', { exact: true }).fill('Two at the dome');
    await own.getByRole('button', { name: 'Keep' }).click();
    await expect(own.getByText('Kept', { exact: true })).toBeVisible();
    await expect(own.getByRole('link', { name: 'Two at the dome Other than the station’s' })).toBeVisible();
    expect(await barriers(own)).toEqual([]);
    await expect(scenes.getByRole('button', { name: 'Two at the dome' })).toBeVisible();
    expect((await host.must<SceneView[]>('GET', '/api/scenes')).map(({ name }) => name)).toContain('Talking together');
    await own.getByRole('button', { name: 'As at the station again' }).click();
    await expect(scenes.getByRole('button', { name: 'Talking together' })).toBeVisible();
    await own.close();
    await page.bringToFront();
  });

  await test.step('a camera that is gone: viewers see a name in its place, and the host what to do', async () => {
    await page.getByText('A drawn host').click();
    await page.getByLabel('Camera', { exact: true }).selectOption({ index: 1 });
    await page.waitForTimeout(2_000);
    await page.evaluate(() =>
      (window as unknown as { opened: MediaStream[] }).opened.flatMap((stream) => stream.getVideoTracks()).forEach((track) => track.stop()),
    );
    await expect(page.getByText('Your camera brings no picture any more')).toBeVisible();
    await page.waitForTimeout(3_000);
    await page.getByLabel('Camera', { exact: true }).selectOption('drawn');
    await expect(page.getByText('Your camera brings no picture any more')).toBeHidden();
  });

  await test.step('so it arrived', async () => {
    await host.must('POST', `/api/shows/${show.id}/wrap`);
    const { watchUrl } = (await host.must<typeof show>('GET', `/api/shows/${show.id}`)).airings.find(({ channel }) => channel.network === 'reelmoor')!;
    const arrived = async () => download(`${watchUrl}/live.m3u8`, test.info().outputPath('arrived.ts'));
    await expect.poll(async () => (await arrived()) !== null).toBe(true);
    const file = test.info().outputPath('arrived.ts');
    const shoulder = (await pictures(file, OVER_THE_SHOULDER, 2, 600)).map(mean);
    const shared = shoulder.findIndex((grey) => grey > 60);
    const back = shoulder.findIndex((grey, at) => at > shared && grey < 50);
    expect(shared, `the greys over the shoulder: ${shoulder.map(Math.round).join(' ')}`).toBeGreaterThan(3);
    expect(back, `the greys over the shoulder: ${shoulder.map(Math.round).join(' ')}`).toBeGreaterThan(shared + 4);
    // The name stood before and after, where the share covered it between.
    const names = await pictures(file, NAME, 2, 600);
    const [before, during, after] = [names[shared - 3]!, names[shared + 3]!, names[back + 2]!];
    expect(difference(before, after)).toBeLessThan(4);
    expect(difference(before, during)).toBeGreaterThan(15);
    // The film was seen, and heard, while microphones were shut; before and after it was dark.
    const white = shoulder.findIndex((grey) => grey > 215);
    const seen = shoulder.slice(white).findIndex((grey) => grey < 215);
    expect(seen, `the greys from the film on: ${shoulder.slice(white).map(Math.round).join(' ')}`).toBeGreaterThanOrEqual(3);
    expect(await meanVolumeDb(file, white / 2 + 0.5, 1)).toBeGreaterThan(-30);
    // The sponsor's paper stood in the corner at the end, and not before.
    const corner = (await pictures(file, SPONSOR, 1, 600)).map(mean);
    expect(
      corner.slice(0, Math.floor(white / 2) - 2).every((grey) => grey < 200),
      `the greys in the corner: ${corner.map(Math.round).join(' ')}`,
    ).toBe(true);
    expect(corner.slice(Math.floor(white / 2) + 11).filter((grey) => grey > 225).length).toBeGreaterThanOrEqual(3);
    // The call took the name's place for some seconds, shortly before.
    const called = names.slice(Math.max(0, shared - 14), shared - 3).filter((seen) => difference(seen, before) > 15);
    expect(called.length).toBeGreaterThanOrEqual(4);
  });
});

// Guests: asked by mail, through the door on a phone, on air, told at every moment where they are, gone and back.
import type { ShowReport } from '@lantern/contract';
import { Captures } from '../support/captures';
import { greenPart, guestInRoom, onBench, PHONE, throughTheDoor } from '../support/guest';
import { Host } from '../support/host';
import { soundOf } from '../support/media';
import { Product } from '../support/product';
import { Relay } from '../support/relay';
import { barriers, expect, kept, lampOf, openStage, section, stageReady, test } from '../support/test';

/** The host is drawn, so that whatever is green is a guest; the microphone is a real one, or the browser would keep the sound of a reloaded stage asleep. */
const DRAWN_HOST = () => localStorage.setItem('lantern-devices', JSON.stringify({ cameraId: 'drawn', microphoneId: '' }));

test('a guest is asked by mail, comes in by a phone, is brought in, talks, leaves and comes back', async ({ page, browser, context }) => {
  const captures = new Captures();
  const product = await Product.start(captures.env);
  const host = new Host(product);
  try {
    const show = await host.showAtItsStart();
    await host.lendTo(context);
    await context.addInitScript(DRAWN_HOST);
    let door = '';

    await test.step('asked on the sheet, by mail', async () => {
      await page.goto(`${product.url}/shows/${show.id}`);
      await section(page, 'People');
      await page.getByRole('button', { name: 'Add a person' }).click();
      await page.getByLabel('Name of person 1', { exact: true }).fill('Juno Hartsel');
      await page.getByLabel('Role of Juno Hartsel').selectOption('guest');
      await page.getByLabel('Beneath the name of Juno Hartsel').fill('school telescope');
      await page.getByLabel('Mail address of Juno Hartsel').fill('juno@guests.example');
      await page.getByLabel('Keep each guest’s own sound too').check();
      await kept(page);
      await page.getByRole('button', { name: 'Ask by mail for Juno Hartsel' }).click();
      await expect(page.getByRole('region', { name: 'Guests and their passes' })).toContainText('asked, no answer yet');
      door = /http\S+\/door#\S+/.exec(await product.mailTo('juno@guests.example'))![0];
    });

    const phone = await (await browser.newContext({ ...PHONE, permissions: ['camera', 'microphone'] })).newPage();
    await test.step('the door, on a phone: says yes, and goes through it', async () => {
      await phone.goto(door);
      await expect(phone.getByRole('heading', { name: 'Will you be our guest, Juno Hartsel?' })).toBeVisible();
      // What the mail brought stands in the address no more.
      expect(phone.url()).toBe(`${product.url}/door`);
      expect(await barriers(phone)).toEqual([]);
      await phone.getByLabel('A word to the host').fill('With pleasure');
      await phone.getByRole('button', { name: 'Yes, I come' }).click();
      await expect(page.getByRole('region', { name: 'Guests and their passes' })).toContainText('“With pleasure”');
      await phone.getByRole('button', { name: 'Come in' }).click();
      const looked = ['Who are you on the picture?', 'Do you hear, and are you heard?', 'This is how you will look'];
      await throughTheDoor(phone, async (question) => {
        if (looked.includes(question)) expect(await barriers(phone)).toEqual([]);
        if (question === 'Before you come in') await phone.getByLabel('My own sound may be kept as well').check();
      });
      await expect(phone.getByText('nobody is at the stage yet')).toBeVisible();
      await expect(page.getByRole('region', { name: 'Guests and their passes' })).toContainText('in the green room');
      await expect(page.getByText(/Tried out .*640×|Tried out .*1280×/)).toBeVisible();
      await expect(page.getByText('Own sound: has agreed.')).toBeVisible();
    });

    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await test.step('on the bench, and not in the programme before somebody brings them in', async () => {
      await expect(onBench(page, 'Juno Hartsel')).toContainText('waits');
      await expect.poll(() => greenPart(onBench(page, 'Juno Hartsel').locator('video'))).toBeGreaterThan(0.5);
      await page.getByRole('button', { name: 'Go on air' }).click();
      await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
      await page.getByRole('button', { name: 'Talking together' }).click();
      await page.keyboard.press('Space');
      await expect(page.getByText('Programme Talking together')).toBeVisible();
      expect(await greenPart(page.getByLabel('Programme', { exact: true }))).toBeLessThan(0.02);
      await expect(phone.getByRole('heading', { name: 'Not seen or heard' })).toBeVisible();
    });

    await test.step('brought in by the key of their number: seen by viewers, and told so across the room', async () => {
      await page.keyboard.press('1');
      await expect(phone.getByRole('heading', { name: 'You are on air now' })).toBeVisible();
      await expect(phone.getByText('Your own sound is being kept as well.')).toBeVisible();
      await expect(onBench(page, 'Juno Hartsel')).toContainText('on air');
      await expect.poll(() => greenPart(page.getByLabel('Programme', { exact: true }))).toBeGreaterThan(0.1);
      // They see the programme as it goes out.
      await expect.poll(() => greenPart(phone.getByRole('img', { name: 'The programme' }))).toBeGreaterThan(0.1);
      await expect.poll(() => captures.lastSeenAndHeard().green - captures.lastSeenAndHeard().red, { timeout: 60_000 }).toBeGreaterThan(10);
      expect(await barriers(phone)).toEqual([]);
    });

    await test.step('a note and a cue reach their eyes, theirs the bench; a muted microphone is said', async () => {
      await onBench(page, 'Juno Hartsel').getByRole('button', { expanded: false }).click();
      await page.getByRole('button', { name: 'Two minutes left' }).click();
      await expect(phone.getByText('Two minutes left')).toBeVisible();
      await phone.getByLabel('A note to the team').fill('I have a picture to show');
      await phone.getByRole('button', { name: 'Send' }).click();
      await expect(onBench(page, 'Juno Hartsel')).toContainText('I have a picture to show');
      await phone.getByRole('button', { name: 'Switch microphone off' }).click();
      await expect(onBench(page, 'Juno Hartsel')).toContainText('microphone off');
      await phone.getByRole('button', { name: 'Switch microphone on again' }).click();
      await page.getByRole('button', { name: 'Mute', exact: true }).click();
      await expect(phone.getByText('The team has muted you')).toBeVisible();
      await page.getByRole('button', { name: 'Let them be heard' }).click();
      expect(await barriers(page)).toEqual([]);
    });

    await test.step('the stage is loaded anew: the guest is back, and in', async () => {
      await page.reload();
      await stageReady(page);
      await expect(onBench(page, 'Juno Hartsel')).toContainText('on air');
      await expect.poll(() => greenPart(page.getByLabel('Programme', { exact: true }))).toBeGreaterThan(0.1);
    });

    await test.step('the air process dies: the guest comes back by themselves, and is in again', async () => {
      await product.killAir();
      await expect(phone.getByRole('heading', { name: 'Not known at this moment' })).toBeVisible();
      await product.startAir();
      await expect(phone.getByRole('heading', { name: 'You are on air now' })).toBeVisible({ timeout: 60_000 });
      await expect.poll(() => greenPart(page.getByLabel('Programme', { exact: true }))).toBeGreaterThan(0.1);
    });

    await test.step('they leave, and come back to their place', async () => {
      await phone.getByRole('button', { name: 'Leave' }).click();
      await expect(phone.getByRole('heading', { name: 'You have left the green room' })).toBeVisible();
      await expect(onBench(page, 'Juno Hartsel')).toContainText('gone for now');
      await expect.poll(() => greenPart(page.getByLabel('Programme', { exact: true }))).toBeLessThan(0.02);
      await phone.reload();
      await phone.getByRole('button', { name: 'Come back in' }).click();
      await expect(phone.getByRole('heading', { name: 'Not seen or heard' })).toBeVisible();
      await expect(onBench(page, 'Juno Hartsel')).toContainText('waits');
    });

    await test.step('afterwards their own sound is there, as long as the recording; taken back, it is gone', async () => {
      await page.getByRole('button', { name: 'Wrap up…' }).click();
      await page.getByRole('button', { name: 'Wrap up everywhere' }).click();
      await expect(page).toHaveURL(/\/report/);
      const sounds = page.getByRole('region', { name: 'Own sound of guests' });
      const link = sounds.getByRole('link', { name: 'Download the own sound of Juno Hartsel' });
      const fetched = async (path: string) => soundOf(await (await page.request.get(`${product.url}${path}`)).body());
      let [own, whole] = [soundOf(Buffer.alloc(0)), soundOf(Buffer.alloc(0))];
      // What the stage made without a line comes after the end: the recording is made anew then, and this with it.
      await expect(async () => {
        await expect(link).toBeVisible();
        const { recording } = await host.must<ShowReport>('GET', `/api/shows/${show.id}/report`);
        expect(recording.state).toBe('ready');
        [own, whole] = [await fetched((await link.getAttribute('href'))!), await fetched(recording.url!)];
        expect(Math.abs(own.seconds - recording.lengthMs / 1_000)).toBeLessThan(0.05);
      }).toPass({ timeout: 120_000 });
      const seconds = Array.from({ length: Math.floor(own.seconds) }, (_, second) => second);
      const spoken = seconds.filter((second) => own.loud(second, second + 1) > 0.05);
      // Nobody was in at first. As they come in the recording has them; later, while the air process is dead, nobody can say what goes out.
      expect([own.loud(0, 1), whole.loud(spoken[0]!, spoken[0]! + 1) > 0.03, spoken.length > 4]).toEqual([0, true, true]);
      expect(await barriers(page)).toEqual([]);
      await phone.reload();
      await expect(phone.getByText('keeps your own sound of that evening')).toBeVisible();
      await phone.getByRole('button', { name: 'Have it removed' }).click();
      await phone.getByRole('button', { name: 'Remove it' }).click();
      await expect(phone.getByText('keeps your own sound of that evening')).toHaveCount(0);
      await expect(link).toHaveCount(0);
    });

    // No pass has come into any log.
    expect(product.logs).not.toContain(door.split('#')[1]);
  } finally {
    await product.stop();
  }
});

test('one whose pass is withdrawn is out at once; a viewer who asked is offered a place, and comes in', async ({ page, browser, context }) => {
  const product = await Product.start();
  const host = new Host(product);
  try {
    const show = await host.showAtItsStart();
    await host.lendTo(context);
    await context.addInitScript(DRAWN_HOST);
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await page.getByRole('button', { name: 'Go on air' }).click();
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    await page.getByRole('button', { name: 'Talking together' }).click();
    await page.keyboard.press('Space');
    await expect(page.getByText('Programme Talking together')).toBeVisible();

    await test.step('a pass that is withdrawn in the middle of the show: out at once', async () => {
      const other = await guestInRoom(browser, host, show.id, 'Tomasz Wren');
      await expect(onBench(page, 'Tomasz Wren')).toContainText('waits');
      await page.keyboard.press('1');
      await expect(other.getByRole('heading', { name: 'You are on air now' })).toBeVisible();
      const sheet = await context.newPage();
      await sheet.goto(`${product.url}/shows/${show.id}?open=people`);
      const row = sheet.getByRole('region', { name: 'Guests and their passes' }).getByRole('listitem').filter({ hasText: 'Tomasz Wren' });
      await row.getByRole('button', { name: 'Withdraw the pass of Tomasz Wren' }).click();
      await row.getByRole('button', { name: 'Withdraw', exact: true }).click();
      await expect(other.getByRole('heading', { name: 'Your pass was withdrawn' })).toBeVisible();
      await expect(onBench(page, 'Tomasz Wren')).toHaveCount(0);
      await sheet.close();
      await other.close();
    });
    await test.step('a viewer asks on the house page, is offered a place, and comes in by the guest door', async () => {
      const viewer = await (await browser.newContext({ ...PHONE, permissions: ['camera', 'microphone'] })).newPage();
      await viewer.goto(show.houseUrl);
      await viewer.getByRole('region', { name: 'Ask the host' }).getByLabel('Your name').fill('Orla');
      await viewer.getByLabel('Your question').fill('Is it green from Skelldale too?');
      await viewer.getByRole('button', { name: 'Send it to the host' }).click();
      await expect(viewer.getByText('is with the host')).toBeVisible();
      const question = page.getByRole('region', { name: 'Questions' }).getByRole('listitem').filter({ hasText: 'Skelldale' });
      await expect(question).toContainText('Orla');
      expect(await barriers(page)).toEqual([]);
      await question.getByRole('button', { name: 'Offer a place' }).click();
      await expect(viewer.getByRole('heading', { name: 'Will you come in and ask it yourself?' })).toBeVisible();
      expect(await barriers(viewer)).toEqual([]);
      await viewer.getByRole('button', { name: 'Yes, I come in' }).click();
      await viewer.getByRole('button', { name: 'Come in' }).click();
      await throughTheDoor(viewer);
      await expect(onBench(page, 'Orla')).toContainText('waits');
      await onBench(page, 'Orla').getByRole('button', { name: 'Bring in Orla' }).click();
      await expect(viewer.getByRole('heading', { name: 'You are on air now' })).toBeVisible();
      // On the picture by one key, shortened where it stands, and off again.
      await page.keyboard.press('q');
      await expect(question).toContainText('On the picture.');
      await question.getByRole('button', { name: 'Shorten' }).click();
      await page.getByLabel('As it stands on the picture (Orla)').fill('Green from Skelldale too?');
      await question.getByRole('button', { name: 'Keep' }).click();
      await expect(question).toContainText('On the picture as “Green from Skelldale too?”');
      await question.getByRole('button', { name: 'Answered' }).click();
      await page.keyboard.press('q');
      await expect(page.getByRole('region', { name: 'Questions' })).not.toContainText('On the picture.');
      await page.getByText('1 answered or put aside').click();
      await question.getByRole('button', { name: 'Take the place back' }).click();
      await expect(viewer.getByRole('heading', { name: 'Your pass was withdrawn' })).toBeVisible();
      await viewer.goto(show.houseUrl);
      await expect(viewer.getByText('was answered')).toBeVisible();
      await viewer.close();
    });
  } finally {
    await product.stop();
  }
});

test('guest and stage meet by a relay alone; one that is down is said on both sides, and come back to', async ({ page, browser, context }) => {
  const relay = await Relay.start();
  const product = await Product.start(relay.env);
  const host = new Host(product);
  try {
    const show = await host.showAtItsStart();
    await host.lendTo(context);
    await context.addInitScript(DRAWN_HOST);
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    const guest = await guestInRoom(browser, host, show.id, 'Juno Hartsel');
    await expect.poll(() => greenPart(onBench(page, 'Juno Hartsel').locator('video')), { timeout: 60_000 }).toBeGreaterThan(0.5);
    // What went that way was let in by a word of ours.
    expect(relay.said).toMatch(/ALLOCATE processed, success/);
    await relay.stop();
    await guest.reload();
    await guest.getByRole('button', { name: 'Come back in' }).click();
    await expect(guest.getByText('No way to the stage has been found yet')).toBeVisible();
    await expect(page.getByText('no picture or voice has come yet')).toBeVisible();
    await relay.begin();
    await expect(guest.getByText('No way to the stage has been found yet')).toBeHidden({ timeout: 60_000 });
    await expect(page.getByText('no picture or voice has come yet')).toBeHidden();
  } finally {
    await product.stop();
    await relay.stop();
  }
});

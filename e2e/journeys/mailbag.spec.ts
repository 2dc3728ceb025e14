// Messages from networks on the stage: read, answered, gathered and hidden by keys, whatever happens to a network or the server meanwhile.
import type { Page } from '@playwright/test';
import { Host } from '../support/host';
import { Product } from '../support/product';
import { barriers, expect, lampOf, openStage, test } from '../support/test';

test('what viewers write on two networks is answered, put on the picture and hidden from the stage, through a silence and a restart', async ({
  page,
  browser,
  context,
}) => {
  const product = await Product.start();
  const host = new Host(product);
  try {
    const show = await host.showAtItsStart();
    const pageOn = (network: string) => show.airings.find(({ channel }) => channel.network === network)!.watchUrl!;
    await host.lendTo(context);
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await page.getByRole('button', { name: 'Go on air' }).click();
    await expect(lampOf(page, 'Townfold')).toHaveText('lit');
    const write = async (network: string, words: string) => {
      const body = JSON.stringify({ name: 'Wilf', words, standing: 'newcomer' });
      const reply = await fetch(`${pageOn(network)}/said`, { method: 'POST', headers: { 'content-type': 'application/json' }, body });
      expect(reply.status).toBe(200);
    };
    const mailbag = page.getByRole('region', { name: 'Mailbag' });
    const list = mailbag.getByRole('feed', { name: 'Messages' });
    const message = (words: string) => list.getByRole('article').filter({ hasText: words });

    /** A poll from the first letter to its bars on the picture: answered by a press on the house page, and by a letter on a channel. */
    const pollRun = async (visitor: Page) => {
      const polls = page.getByRole('region', { name: 'Polls' });
      await polls.getByRole('button', { name: 'Prepare one' }).click();
      await polls.getByLabel('What is asked').fill('What first?');
      await polls.getByLabel('Answer A').fill('The comet');
      await polls.getByLabel('Answer B').fill('Saturn');
      await page.keyboard.press('Enter');
      await polls.getByRole('button', { name: 'Open it (What first?)' }).click();
      await visitor.getByRole('button', { name: 'Saturn' }).click();
      await expect(visitor.getByText('You have answered. 1 vote so far.')).toBeVisible();
      await write('townfold', 'b!');
      await expect(visitor.getByText('You have answered. 2 votes so far.')).toBeVisible();
      expect(await barriers(visitor)).toEqual([]);
      await expect(polls).toContainText('2 votes: Alderfell Sky Club (Townfold) 1, House page 1');
      await polls.getByRole('button', { name: 'Close it' }).focus();
      await page.keyboard.press('v');
      await expect(polls.getByRole('button', { name: 'Take it off the picture (What first?)' })).toBeVisible();
      await page.keyboard.press('v');
      await polls.getByRole('button', { name: 'Close it' }).click();
      await expect(visitor.getByText('Closed, 2 votes.')).toBeVisible();
      await expect(visitor.getByRole('button', { name: 'Saturn' })).toBeDisabled();
    };
    const viewer = await (await browser.newContext()).newPage();
    await viewer.goto(pageOn('townfold'));
    await viewer.getByLabel('Your name').fill('Fern');
    await viewer.getByLabel('Message').fill('Which of them is the comet?');
    await viewer.getByRole('button', { name: 'Write it' }).click();
    await expect(viewer.locator('#said')).toContainText('Which of them is the comet?');
    await expect(message('Which of them is the comet?')).toContainText('Fern Townfold · no follower');
    await write('reelmoor', 'you blatherskite');
    await expect(message('you blatherskite')).toContainText('Wilf Reelmoor');
    expect(await barriers(page)).toEqual([]);

    await test.step('by keys alone: answered where it was written, and among the questions', async () => {
      await list.focus();
      await page.keyboard.press('End');
      await page.keyboard.press('ArrowUp');
      await expect(message('Which of them')).toBeFocused();
      await page.keyboard.press('a');
      await page.getByLabel('Answer to Fern, as').fill('The smudge above the dome.');
      await page.keyboard.press('Enter');
      await expect(message('Which of them')).toContainText('Answered.');
      await expect(viewer.locator('#said')).toContainText('Fern: The smudge above the dome.');
      await message('Which of them').focus();
      await page.keyboard.press('u');
      await expect(message('Which of them')).toContainText('Among the questions.');
      const question = page.getByRole('region', { name: 'Questions' }).getByRole('listitem').filter({ hasText: 'Which of them' });
      await expect(question).toContainText('Fern, on Townfold');
      await page.keyboard.press('q');
      await expect(question).toContainText('On the picture.');
    });
    await test.step('abuse is gone from where it stood', async () => {
      await message('you blatherskite').focus();
      await page.keyboard.press('h');
      await expect(message('you blatherskite')).toContainText('Hidden there.');
      expect(await (await fetch(`${pageOn('reelmoor')}/said`)).json()).toEqual([]);
    });
    await test.step('on the house page visitors write without an account; what is hidden is gone from it while they look', async () => {
      const visitor = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
      await visitor.goto(show.houseUrl);
      const talk = visitor.getByRole('region', { name: 'Messages' });
      await talk.getByLabel('Your name').fill('Tansy');
      await talk.getByLabel('Your message').fill('You are all numbskulls');
      await talk.getByRole('button', { name: 'Send' }).click();
      await expect(talk.getByRole('listitem')).toContainText('Tansy');
      await expect(message('numbskulls')).toContainText('Tansy the house page · first message here');
      await message('numbskulls').focus();
      await page.keyboard.press('h');
      await expect(message('numbskulls')).toContainText('Hidden.');
      await expect(talk.getByRole('listitem')).toHaveText('Nobody has written yet.');
      await pollRun(visitor);
      await visitor.close();
    });
    await test.step('followers only on both networks, from one place', async () => {
      await mailbag.getByText('Who may write').click();
      const mayWrite = async (network: string, who: string) => {
        const choice = mailbag.getByLabel(`Alderfell Sky Club (${network})`, { exact: true });
        await choice.selectOption(who);
        await expect(choice).toBeEnabled();
        await expect(choice.locator('option:checked')).toHaveText(who);
      };
      for (const network of ['Reelmoor', 'Townfold']) await mayWrite(network, 'followers only');
      await viewer.getByLabel('Message').fill('Let me in');
      await viewer.getByRole('button', { name: 'Write it' }).click();
      await expect(viewer.locator('#not-said')).toHaveText('Only followers write here.');
      for (const network of ['Reelmoor', 'Townfold']) await mayWrite(network, 'everyone');
    });
    await test.step('what the station will not have is hidden as it comes', async () => {
      await mailbag.getByText('Held back: nothing').click();
      await mailbag.getByLabel('Words, with commas between them').fill('snarkwit, go home');
      await mailbag.getByRole('button', { name: 'Hold back from now on' }).click();
      await expect(mailbag.getByText('Held back: 2 words')).toBeVisible();
      await write('townfold', 'Go home, you Snarkwit');
      await expect(message('Go home, you Snarkwit')).toContainText('Held back for a word. Hidden there.');
      await expect(viewer.locator('#said')).not.toContainText('Snarkwit');
    });
    await test.step('a network that is silent is named, and what was written while the server was away is there afterwards', async () => {
      await product.setFault('reelmoor', 'down');
      await expect(mailbag.getByText(/No messages come from .* \(Reelmoor\)/)).toBeVisible();
      await product.setFault('reelmoor', 'none');
      await product.killServer();
      await write('townfold', 'Anybody there?');
      await write('reelmoor', 'Still with you');
      await product.startServer();
      for (const words of ['Anybody there?', 'Still with you']) await expect(message(words)).toHaveCount(1, { timeout: 40_000 });
      await expect(mailbag.getByText(/No messages come from/)).toHaveCount(0);
      await expect(mailbag).toContainText('8 messages, 3 unanswered');
    });
  } finally {
    await product.stop();
  }
});

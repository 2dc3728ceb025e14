// The stage handed over and back: how long it takes, and how long a channel waits for a picture meanwhile. Both stages run on the same cores: a wait that is
// not the hand-over's is seen in the same while without one.
import { test } from '@playwright/test';
import { lampOf, openStage } from '../e2e/support/test';
import { evening } from './measured/evening';

const WHILE_MS = 15_000;

test('the stage is handed over', async ({ browser }) => {
  test.setTimeout(300_000);
  await evening(async ({ product, host, show, captures, longestWait }) => {
    const stageOf = async () => {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, permissions: ['camera', 'microphone'] });
      await host.lendTo(context);
      await context.addInitScript(() => localStorage.setItem('lantern-devices', JSON.stringify({ cameraId: 'drawn', microphoneId: '' })));
      const page = await context.newPage();
      page.on('dialog', (dialog) => void dialog.accept());
      return page;
    };
    const first = await stageOf();
    await openStage(first, `${product.url}/shows/${show.id}/stage`);
    await first.getByRole('button', { name: 'Go on air' }).click();
    await lampOf(first, 'Reelmoor').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
    const second = await stageOf();
    await second.goto(`${product.url}/shows/${show.id}/stage`);
    await second.getByText('has the stage').waitFor();
    await first.waitForTimeout(5_000);

    let since = Date.now();
    await first.waitForTimeout(WHILE_MS);
    const without = longestWait(since);
    const took: number[] = [];
    const waits: number[] = [];
    for (const [giver, taker] of [
      [first, second],
      [second, first],
    ] as const) {
      since = Date.now();
      await giver.getByRole('button', { name: 'Hand the stage to' }).click();
      await taker.getByRole('button', { name: 'Take it over' }).click();
      const agreed = Date.now();
      await giver.getByText('has the stage now').waitFor({ timeout: 60_000 });
      took.push(Date.now() - agreed);
      await first.waitForTimeout(WHILE_MS - (Date.now() - since));
      waits.push(longestWait(since));
    }
    console.table([
      { what: 'longest wait for a picture, two stages open', figure: `${without} ms`, aim: '' },
      { what: 'the same, with a hand-over in it', figure: waits.map((each) => `${each} ms`).join(', '), aim: 'under 1500 ms: no card' },
      { what: 'from the second yes to the other on air', figure: took.map((each) => `${(each / 1_000).toFixed(1)} s`).join(', '), aim: '' },
      {
        what: 'connections to each channel',
        figure: captures
          .gaps()
          .map(({ connections }) => connections)
          .join(', '),
        aim: '1',
      },
    ]);
  });
});

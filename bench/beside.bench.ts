// A recording is looked through and cut while another show is on air: whether viewers of that one notice, and how long it takes then.
import { test } from '@playwright/test';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { lampOf, openStage } from '../e2e/support/test';
import { makeCutFile } from '../server/src/cutting/cut-file';
import { makeSurvey, surveyOf, timesOf } from '../server/src/cutting/survey';
import { evening } from './measured/evening';
import { writeHour } from './measured/hour';

const MINUTES = Number(process.env.LANTERN_CUT_MINUTES ?? 60);
const LENGTH_MS = MINUTES * 60_000;
const KEPT = [{ fromMs: 60_777, toMs: LENGTH_MS - 60_777 }];

test('a recording is looked through and cut beside a show on air', async ({ browser }) => {
  test.setTimeout(900_000);
  const folder = mkdtempSync(join(tmpdir(), 'lantern-bench-beside-'));
  try {
    const ffmpeg = ffmpegPackage.path;
    const recording = writeHour(ffmpeg, folder, MINUTES);
    await evening(async ({ product, host, show, longestWait, captures }) => {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, permissions: ['camera', 'microphone'] });
      await host.lendTo(context);
      const page = await context.newPage();
      page.on('dialog', (dialog) => void dialog.accept());
      await openStage(page, `${product.url}/shows/${show.id}/stage`);
      await page.getByRole('button', { name: 'Go on air' }).click();
      await lampOf(page, 'Reelmoor').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
      await page.keyboard.press('Space');
      await page.waitForTimeout(10_000);
      const during = async (work: () => Promise<unknown>) => {
        const since = Date.now();
        await work();
        const tookMs = Date.now() - since;
        const pictures = captures.connections().map((each) => each.pictures.filter(({ at }) => at >= since && at < since + tookMs).length);
        return { tookMs, waitMs: longestWait(since), aSecond: Math.max(...pictures) / (tookMs / 1_000) };
      };
      const signal = new AbortController().signal;
      const alone = await during(() => page.waitForTimeout(30_000));
      const looked = await during(() => makeSurvey(ffmpeg, folder, recording, LENGTH_MS, signal));
      const times = await timesOf(folder, (await surveyOf(folder, recording))!);
      const order = { recording, target: join(folder, 'cut.mp4'), kept: KEPT, times, chapters: [], levelled: false, card: null };
      const cut = await during(() => makeCutFile(ffmpeg, order, () => undefined, signal));
      const say = ({ tookMs, waitMs, aSecond }: typeof alone) => `${(tookMs / 1_000).toFixed(1)} s; ${aSecond.toFixed(1)}; ${waitMs} ms`;
      console.table([
        { what: 'on air alone: for; pictures a second at a stand-in; longest wait for one on any', figure: say(alone) },
        { what: `${MINUTES} min looked through beside it`, figure: say(looked) },
        { what: 'nearly all of it cut beside it', figure: say(cut) },
      ]);
      await context.close();
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

// What half an hour on air leaves behind in memory: of the stage's page and of the worker that draws. Prints a table; passes whatever the figures
// are, since machines differ. Each heap is looked at after the browser was asked to give back what nobody needs any more.
import type { CDPSession, Page } from '@playwright/test';
import type { ShowView } from '@lantern/contract';
import { lampOf, openStage, test } from '../e2e/support/test';

const MINUTES = Number(process.env.BENCH_MINUTES ?? 30);
/** What is loaded and remembered at the beginning stays: the first look is taken after so long. */
const SETTLES_MIN = 3;

test.setTimeout((MINUTES + 5) * 60_000);

test('half an hour on air', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  const graphic = { kind: 'strap', text: 'Dr Oriel Vance', more: 'Observatory', hidesAfterS: 8, cue: null, lookedAtFor: null };
  const graphics = Array.from({ length: 4 }, (_, at) => ({ ...graphic, id: `graphic ${at}` }));
  const { version } = await host.must<ShowView>('GET', `/api/shows/${show.id}`);
  await host.must('PATCH', `/api/shows/${show.id}`, { base: version, changes: { graphics } });
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  const heaps = await heapsOf(page);
  await page.getByRole('button', { name: 'Go on air', exact: true }).click();
  await lampOf(page, 'Reelmoor').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
  const looks: { minute: number; page: number; worker: number }[] = [];
  for (let minute = 0; minute <= MINUTES; minute++) {
    if (minute >= SETTLES_MIN) looks.push({ minute, ...(await heaps()) });
    // As an evening goes: takes, and graphics that come and go.
    await page.keyboard.press('Space');
    await page.keyboard.press('g');
    await page.waitForTimeout(60_000);
  }
  const told = (of: 'page' | 'worker') => {
    const [first, last] = [looks[0]![of], looks.at(-1)![of]];
    return { from: megabytes(first), to: megabytes(last), change: `${(((last - first) / first) * 100).toFixed(1)} %`, aim: '± 5 %' };
  };
  console.table({ page: told('page'), worker: told('worker') });
  console.log(looks.map((look) => `${look.minute} min: ${megabytes(look.page)}, ${megabytes(look.worker)}`).join('\n'));
});

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(2)} MB`;

/** Says how many bytes of heap the page and its drawing worker hold. */
async function heapsOf(page: Page): Promise<() => Promise<{ page: number; worker: number }>> {
  const session = await page.context().newCDPSession(page);
  const toWorker = await drawingWorker(session);
  const used = async (send: (method: string) => Promise<unknown>) => {
    await send('HeapProfiler.collectGarbage');
    return ((await send('Runtime.getHeapUsage')) as { usedSize: number }).usedSize;
  };
  return async () => ({ page: await used((method) => session.send(method as 'Runtime.getHeapUsage')), worker: await used(toWorker) });
}

/** Speaks to the worker that draws through the session of its page. */
async function drawingWorker(session: CDPSession): Promise<(method: string) => Promise<unknown>> {
  const found = new Promise<string>((done) =>
    session.on('Target.attachedToTarget', ({ sessionId, targetInfo }) => {
      if (targetInfo.type === 'worker' && targetInfo.url.includes('compositor')) done(sessionId);
    }),
  );
  await session.send('Target.setAutoAttach', { autoAttach: true, waitForDebuggerOnStart: false, flatten: false });
  const sessionId = await found;
  let asked = 0;
  return async (method) => {
    const id = ++asked;
    const answer = new Promise<unknown>((done) => {
      const hear = (event: { sessionId: string; message: string }) => {
        const told = JSON.parse(event.message) as { id?: number; result?: unknown };
        if (event.sessionId !== sessionId || told.id !== id) return;
        session.off('Target.receivedMessageFromTarget', hear);
        done(told.result);
      };
      session.on('Target.receivedMessageFromTarget', hear);
    });
    await session.send('Target.sendMessageToTarget', { sessionId, message: JSON.stringify({ id, method }) });
    return answer;
  };
}

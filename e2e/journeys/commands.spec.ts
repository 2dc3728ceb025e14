import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { expect, test as base } from '@playwright/test';

const ROOT = resolve(__dirname, '..', '..');
const PORTS = { LANTERN_PORT: '4790', LANTERN_AIR_PORT: '4793', LANTERN_RTMP_PORT: '4794', LANTERN_NETWORKS_PORT: '4791', LANTERN_NETWORKS_RTMP_PORT: '4792' };

/** A demo of the test's own: the script as people start it, on other ports and with other data. */
class Demo {
  readonly folder = mkdtempSync(join(tmpdir(), 'lantern-demo-'));
  output = '';
  private child: ChildProcess | null = null;

  async start(...args: string[]): Promise<void> {
    this.output = '';
    const env = { ...process.env, ...PORTS, LANTERN_DEMO_DATA: this.folder };
    const child = spawn(process.execPath, [join(ROOT, 'scripts', 'demo.mjs'), ...args], { cwd: ROOT, env });
    this.child = child;
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (this.output += String(text)));
    await new Promise<void>((ready, failed) => {
      child.stdout.on('data', () => this.output.includes('Ctrl-C') && ready());
      child.once('exit', (code) => failed(new Error(`the demo ended with ${code}: ${this.output}`)));
    });
  }

  /** Ctrl-C. */
  async interrupt(): Promise<void> {
    const { child } = this;
    this.child = null;
    if (!child || child.exitCode !== null) return;
    const gone = new Promise((done) => child.once('exit', done));
    child.kill('SIGINT');
    await gone;
  }
}

const test = base.extend<{ demo: Demo }>({
  demo: async ({}, use) => {
    const demo = new Demo();
    await use(demo);
    await demo.interrupt();
    rmSync(demo.folder, { recursive: true, force: true });
  },
});

function occupy(port: number): Promise<Server> {
  return new Promise((done, failed) => {
    const server = createServer();
    server.once('error', failed).listen(port, '127.0.0.1', () => done(server));
  });
}

test('the demo says where it is and how to sign in, has a show due soon, keeps its data and ends whole', async ({ demo, page }) => {
  await demo.start();
  expect(demo.output).toContain('http://localhost:4790');
  const [, email] = /Sign in\s+(\S+)/.exec(demo.output)!;
  const [, password] = /Password\s+(\S+)/.exec(demo.output)!;
  await page.goto('http://localhost:4790');
  await page.getByLabel('Email address').fill(email!);
  await page.getByLabel('Password').fill(password!);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('application', { name: 'Shows in time' })).toBeVisible();
  await page.getByRole('button', { name: 'List', exact: true }).click();
  await expect(page.getByText(/^Placed, in \d+ min$/).first()).toBeVisible();
  await expect(page.getByRole('link', { name: 'Open the stage' }).first()).toBeVisible();
  const titles = await page.locator('.show-row h3').allInnerTexts();
  await page.getByRole('link', { name: 'Read the report' }).first().click();
  await expect(page.getByRole('region', { name: 'On each channel' }).getByRole('row', { name: /Reelmoor/ })).toContainText('Ended on Reelmoor');

  await demo.interrupt();
  for (const port of Object.values(PORTS)) (await occupy(Number(port))).close();

  await demo.start();
  await page.goto('http://localhost:4790/?view=list');
  await expect(page.locator('.show-row h3').first()).toBeVisible();
  expect(await page.locator('.show-row h3').allInnerTexts()).toEqual(titles);
});

test('a first start that was cut short leaves no half station: the next start makes a whole one', async ({ demo, page }) => {
  const started = demo.start().catch(() => undefined);
  // In the middle of it: the station is there, and not all of its shows.
  await expect.poll(() => existsSync(join(demo.folder, 'station', 'seeding')), { timeout: 60_000, intervals: [20] }).toBe(true);
  await page.waitForTimeout(1_200);
  await demo.interrupt();
  await started;
  expect(existsSync(join(demo.folder, 'station', 'seeding'))).toBe(true);
  await demo.start();
  expect(existsSync(join(demo.folder, 'station', 'seeding'))).toBe(false);
  await page.goto('http://localhost:4790');
  await page.getByLabel('Email address').fill('maren@alderfell.example');
  await page.getByLabel('Password').fill('lantern-light');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('button', { name: 'List', exact: true }).click();
  for (const title of ['Members’ Evening', 'Junior Dome Hour', 'Committee Stream']) await expect(page.getByRole('link', { name: title }).first()).toBeVisible();
});

for (const [setting, port] of Object.entries(PORTS)) {
  test(`a port in use is named with its setting: ${setting}`, async ({ demo }) => {
    const holder = await occupy(Number(port));
    await expect(demo.start()).rejects.toThrow(`Port ${port} is in use: end what holds it, or set ${setting} to another number.`);
    holder.close();
  });
}

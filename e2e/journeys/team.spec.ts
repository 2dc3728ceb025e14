// The people of a station: somebody joins by a mail on their phone, is given another role, forgets their password, and is taken out.
import { createHmac } from 'node:crypto';
import { barriers, expect, test } from '../support/test';
import { OWNER } from '../support/host';

const EMAIL = 'idris@alderfell.example';
const PASSWORD = 'a lantern over the fell';

/** What an app shows that was told this secret (RFC 6238). */
function appShows(secret: string, now: number): string {
  const bits = [...secret.replace(/\s/g, '')].map((letter) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(letter).toString(2).padStart(5, '0')).join('');
  const key = Buffer.from(bits.match(/.{8}/g)!.map((byte) => parseInt(byte, 2)));
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(now / 30_000)));
  const mac = createHmac('sha1', key).update(counter).digest();
  return String((mac.readUInt32BE(mac.at(-1)! & 15) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}

test('somebody is asked in by mail, joins on a phone, comes back after a forgotten password, and is out at once when they are taken out', async ({
  page,
  product,
  host,
  context,
  browser,
}) => {
  await host.setUp();
  await host.lendTo(context);
  await page.goto(product.url);
  await page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: 'Team' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: OWNER.name })).toContainText('last seen');
  await page.getByLabel('Email address').fill(EMAIL);
  await page.getByLabel('As', { exact: true }).selectOption('moderator');
  await expect(page.getByText('Looks at everything but keys and addresses')).toBeVisible();
  await page.getByRole('button', { name: 'Send a pass' }).click();
  await expect(page.getByText(`A pass goes out to ${EMAIL}`)).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: EMAIL })).toContainText('Moderator, once they join');
  expect(await barriers(page)).toEqual([]);

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  const address = /http\S+\/join#\S+/.exec(await product.mailTo(EMAIL))![0];
  await phone.goto(address);
  await expect(phone.getByRole('heading', { name: /^Join / })).toBeVisible();
  // What the mail brought stands in the address no more.
  expect(phone.url()).toBe(`${product.url}/join`);
  expect(await barriers(phone)).toEqual([]);
  await phone.getByLabel('Your name').fill('Idris Quayle');
  await phone.getByLabel('Password').fill('password1234');
  await phone.getByRole('button', { name: 'Join' }).click();
  await expect(phone.getByText('among the first that anybody would try').first()).toBeVisible();
  await phone.getByLabel('Password').fill(PASSWORD);
  await phone.getByRole('button', { name: 'Join' }).click();
  await expect(phone.getByRole('heading', { name: 'Almanac' })).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'Idris Quayle' })).toContainText(EMAIL);
  // The pass was good once.
  const late = await (await browser.newContext()).newPage();
  await late.goto(address);
  await expect(late.getByRole('heading', { name: 'This pass is not good' })).toBeVisible();

  await page.getByLabel('What Idris Quayle is').selectOption('producer');
  await expect(
    phone
      .getByRole('heading', { name: /Come in|signed out|Sign in/ })
      .or(phone.getByRole('dialog'))
      .first(),
  ).toBeVisible();

  await late.goto(`${product.url}/sign-in`);
  await late.getByRole('link', { name: 'I have forgotten it' }).click();
  // The page before has a field of the same name.
  await expect(late.getByRole('heading', { name: 'A new password' })).toBeVisible();
  await late.getByLabel('Email address').fill(EMAIL);
  await late.getByRole('button', { name: 'Send it' }).click();
  await expect(late.getByRole('heading', { name: 'Look into your mail' })).toBeVisible();
  await expect.poll(() => product.mails().some((mail) => mail.includes('/new-password#'))).toBe(true);
  await late.goto(/http\S+\/new-password#\S+/.exec(product.mails().find((mail) => mail.includes('/new-password#'))!)![0]);
  await late.getByLabel('Password').fill('another lantern at dusk');
  await late.getByRole('button', { name: 'Keep it' }).click();
  await late.getByRole('link', { name: 'Sign in with it' }).click();
  await late.getByLabel('Email address').fill(EMAIL);
  await late.getByLabel('Password').fill('another lantern at dusk');
  await late.getByRole('button', { name: 'Sign in' }).click();
  await late.getByRole('link', { name: 'Team' }).click();
  await expect(late.getByText('The owner says who belongs to the team')).toBeVisible();

  await page.getByRole('button', { name: 'Take Idris Quayle out' }).click();
  await page.getByRole('button', { name: 'Take out', exact: true }).last().click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Idris Quayle' })).toBeHidden();
  await late.reload();
  await expect(late.getByRole('heading', { name: 'Come in' })).toBeVisible();
  // Whoever is left alone cannot leave the station without an owner.
  await page.getByLabel(`What ${OWNER.name} is`).selectOption('producer');
  await expect(page.getByText('is the only owner, and a station has one at least')).toBeVisible();

  // A second factor: the app reads the secret, proves it, and is asked for at the next sign-in; a spare code opens once.
  await page.getByRole('link', { name: 'you', exact: true }).click();
  await page.getByRole('button', { name: 'Take a second factor' }).click();
  await page.getByLabel('Your password, once more').fill(OWNER.password);
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('img', { name: 'The secret, as a code for your app' })).toBeVisible();
  expect(await barriers(page)).toEqual([]);
  const secret = await page.locator('section[aria-labelledby="second-factor"] code').innerText();
  await page.getByLabel('The code that it shows').fill(appShows(secret, product.now()));
  await page.getByRole('button', { name: 'Turn it on' }).click();
  const spare = await page.locator('.spare-codes code').first().innerText();
  await page.getByRole('button', { name: 'I have them' }).click();
  await expect(page.getByText('10 spare codes are left')).toBeVisible();
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await page.getByLabel('Email address').fill(OWNER.email);
  await page.getByLabel('Password').fill(OWNER.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByLabel('Code').fill('000000');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('This code is not good')).toBeVisible();
  await page.getByLabel('Code').fill(spare);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Main' })).toBeVisible();
});

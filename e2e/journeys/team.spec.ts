// The people of a station: somebody joins by a mail on their phone, is given another role, forgets their password, and is taken out.
import { barriers, expect, test } from '../support/test';
import { OWNER } from '../support/host';

const EMAIL = 'idris@alderfell.example';
const PASSWORD = 'a lantern over the fell';

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
});

/** @jest-environment ./jest.browser.cjs */
// The house page as somebody writes on it: what comes meanwhile, what is hidden, and an answer that gets lost.
import type { HouseMessage } from '@lantern/contract';
import { act, fireEvent, screen, within } from '@testing-library/react';
import { useState } from 'react';
import { Answers, show as shown } from '../test/page';
import type { HearsSaid } from './house-state';
import { withSaid } from './said';
import { TalkHere } from './TalkHere';

const message = (place: number, change: Partial<HouseMessage> = {}): HouseMessage => ({
  ...{
    id: `m${place}`,
    place,
    revision: place,
    name: `Viewer ${place}`,
    own: false,
    words: `Said ${place}`,
    shown: true,
    writtenAt: Date.UTC(2027, 2, 4, 20, 31),
  },
  ...{ to: null, asks: false, askedToo: 0, answered: false },
  ...change,
});

test('what was hidden stays hidden, also where an older answer comes later', () => {
  const hidden = withSaid([message(1), message(2)], [message(1, { revision: 3, shown: false, words: '' })]);
  expect(
    withSaid(hidden, [message(1), message(2), message(4)])
      .filter(({ shown }) => shown)
      .map(({ id }) => id),
  ).toEqual(['m2', 'm4']);
});

const PATH = '/api/house/dusk/messages';
let server: Answers;
let hearing: Set<HearsSaid>;
let asked: string[];
let late: number | null = null;
const hears = (...said: HouseMessage[]) => act(async () => hearing.forEach(({ onSaid }) => onSaid?.(said)));
const settles = () => act(() => new Promise((next) => setTimeout(next, 20)));
const seen = () =>
  within(screen.getByRole('list', { name: 'What is said here' }))
    .queryAllByRole('listitem')
    .map(({ textContent }) => textContent);
const type = (label: string, value: string) => act(async () => void fireEvent.change(screen.getByLabelText(label), { target: { value } }));
const send = () => act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Send' })));

function Page() {
  const [name, setName] = useState('Orla');
  return <TalkHere slug="dusk" hearing={hearing} open behindMs={() => late} name={name} onName={setName} onAsked={(key) => asked.push(key)} />;
}

beforeEach(async () => {
  hearing = new Set();
  asked = [];
  server = new Answers();
  server.to(`GET ${PATH}`, () => ({ body: { shut: '', messages: [message(1)] } }));
  shown(<Page />);
  await settles();
});

test('what others say comes by itself, and goes when it is hidden', async () => {
  await hears(message(2, { asks: true, words: 'Is it green?' }));
  expect(seen()).toEqual([expect.stringContaining('Said 1'), expect.stringContaining('Is it green?')]);
  await hears(message(1, { revision: 3, shown: false, name: '', words: '' }));
  expect(seen()).toEqual([expect.stringContaining('Is it green?')]);
});

test('words that did not arrive stay, and sent again are the same message', async () => {
  const keys: string[] = [];
  server.to(`POST ${PATH}`, ({ body }) => {
    keys.push((body as { key: string }).key);
    return keys.length === 1
      ? { status: 409, body: { words: 'Give others a turn: wait 4 seconds, and send it then.' } }
      : { status: 201, body: { id: 'm7', waits: false, message: message(7, { asks: true, words: 'Why?' }) } };
  });
  await type('Your message', 'Why?');
  await send();
  await settles();
  expect(screen.getByRole('alert').textContent).toContain('wait 4 seconds');
  expect(screen.getByLabelText<HTMLInputElement>('Your message').value).toBe('Why?');
  await send();
  await settles();
  expect(screen.getByLabelText<HTMLInputElement>('Your message').value).toBe('');
  expect(keys[1]).toBe(keys[0]);
  // It looks like a question: should it become one of the host's, this browser follows it. It is one's own: there is nothing to ask too.
  expect(asked).toEqual([keys[0]]);
  expect(seen().at(-1)).toContain('Why?');
  expect(screen.queryByRole('button', { name: /I ask this too/ })).toBeNull();
});

test('what is looked at first is said to wait, until it is shown', async () => {
  server.to(`POST ${PATH}`, () => ({ status: 201, body: { id: 'm7', waits: true, message: null } }));
  await type('Your message', 'Hello all');
  await send();
  await settles();
  expect(screen.getByRole('status').textContent).toContain('“Hello all” is with the host');
  await hears(message(7, { words: 'Hello all' }));
  expect(screen.queryByRole('status')).toBeNull();
  expect(seen().at(-1)).toContain('Hello all');
});

test.each([
  [4_210.4, { behindMs: 4_210 }],
  // It shows no picture, or something that nobody follows.
  [null, {}],
  [-20, {}],
  [900_000, {}],
])('how late the page shows the programme goes along: %s ms', async (ms, told) => {
  late = ms;
  server.to(`POST ${PATH}`, () => ({ body: { id: 'm9', waits: false, message: message(9) } }));
  await type('Your message', 'Lovely!');
  await send();
  await settles();
  const body = server.of(`POST ${PATH}`)[0]!.body as object;
  expect(body).toMatchObject({ words: 'Lovely!', ...told });
  expect('behindMs' in body).toBe('behindMs' in told);
});

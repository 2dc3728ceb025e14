/** @jest-environment ./jest.browser.cjs */
// A session that runs out in the middle of the work: asked about in place, once for all who wait.
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { noteSignedIn, settleSignIn } from '../app/session';
import { server, ServerError } from '../app/server';
import { Answers, show } from '../test/page';
import { SignInAgain } from './SignInAgain';

let answers: Answers;
let signedIn: boolean;
beforeEach(() => {
  answers = new Answers();
  signedIn = true;
  noteSignedIn(true);
  const guarded = () =>
    signedIn ? { body: { name: 'Maren Tolliver', email: 'maren@alderfell.example' } } : { status: 401, body: { words: 'Sign in again.' } };
  answers.to('GET /api/me', guarded);
  answers.to('PATCH /api/shows/a', guarded);
  answers.to('PATCH /api/shows/b', guarded);
  answers.to('POST /api/session', ({ body }) => {
    if ((body as { password: string }).password !== 'lantern-light')
      return { status: 401, body: { words: 'This address and password do not belong together.' } };
    signedIn = true;
    return { body: { name: 'Maren Tolliver' } };
  });
});
afterEach(() => act(async () => settleSignIn(false)));

async function opened() {
  show(<SignInAgain />);
  expect(screen.queryByRole('dialog')).toBeNull();
  signedIn = false;
}
/** Begins something that the server refuses since nobody is signed in any more. */
async function begin<T>(work: () => Promise<T>): Promise<{ begun: Promise<T> }> {
  let begun!: Promise<T>;
  await act(async () => {
    begun = work();
    begun.catch(() => undefined);
    await new Promise((next) => setTimeout(next, 10));
  });
  return { begun };
}
async function give(password: string) {
  const field = screen.getByLabelText('Password');
  await act(async () => void fireEvent.change(field, { target: { value: password } }));
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Sign in' })));
}

test('whatever waits for it goes on once the password is given, and is asked about once', async () => {
  await opened();
  const { begun } = await begin(() => Promise.all([server.patch('/api/shows/a', { title: 'Typed' }), server.patch('/api/shows/b', {})]));
  await give('lantern-light');
  await expect(begun).resolves.toHaveLength(2);
  expect(answers.of('POST /api/session')).toHaveLength(1);
  expect(answers.of('PATCH /api/shows/a').map(({ body }) => body)).toEqual([{ title: 'Typed' }, { title: 'Typed' }]);
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
});

test('a wrong password is told, and can be typed again', async () => {
  await opened();
  const { begun } = await begin(() => server.patch('/api/shows/a', {}));
  await give('lantern-dark');
  expect(await screen.findByText(/do not belong together/)).toBeTruthy();
  await give('lantern-light');
  await expect(begun).resolves.toBeDefined();
});

test('whoever would rather leave is not asked again, and what waited is told no', async () => {
  await opened();
  const { begun } = await begin(() => server.patch('/api/shows/a', {}));
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Leave this page' })));
  await expect(begun).rejects.toBeInstanceOf(ServerError);
  await expect(server.patch('/api/shows/a', {})).rejects.toMatchObject({ status: 401 });
  expect(screen.queryByRole('dialog')).toBeNull();
});

import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeTogether } from './whole-files';

const folder = mkdtempSync(join(tmpdir(), 'lantern-whole-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const [first, second] = [join(folder, 'first'), join(folder, 'second')];
const text = (path: string) => readFileSync(path, 'utf8');

test('files that belong together are all new or all as they were', async () => {
  await writeTogether([
    [first, Buffer.from('one')],
    [second, Buffer.from('two')],
  ]);
  expect([text(first), text(second)]).toEqual(['one', 'two']);
  // The disk takes the second not.
  mkdirSync(`${second}.new`);
  await expect(
    writeTogether([
      [first, Buffer.from('three')],
      [second, Buffer.from('four')],
    ]),
  ).rejects.toMatchObject({ code: 'EISDIR' });
  expect([text(first), text(second)]).toEqual(['one', 'two']);
  rmSync(`${second}.new`, { recursive: true });
  expect(readdirSync(folder).sort()).toEqual(['first', 'second']);
});

import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { plainReason } from '../media/relay';
import { hashPassword, passwordFits } from '../people/passwords';
import { withoutSecrets } from './log';
import type { Settings } from './settings';
import { Vault } from './vault';

const folders: string[] = [];
function vault(): Vault {
  const dataDir = mkdtempSync(join(tmpdir(), 'lantern-vault-'));
  folders.push(dataDir);
  return new Vault({ dataDir } as Settings);
}
afterAll(() => folders.forEach((folder) => rmSync(folder, { recursive: true })));

test('what is sealed opens with the same key only, and not after a change', () => {
  const mine = vault();
  const sealed = mine.seal({ key: 'secret' });
  expect(mine.open(sealed)).toEqual({ key: 'secret' });
  expect(mine.seal({ key: 'secret' })).not.toBe(sealed);
  expect(vault().open(sealed)).toBeNull();
  const bytes = Buffer.from(sealed, 'base64');
  bytes[bytes.length - 1]! ^= 1;
  expect(mine.open(bytes.toString('base64'))).toBeNull();
  expect(mine.open('')).toBeNull();
});

test('passwords fit their own hash only', async () => {
  const hash = await hashPassword('lantern-light');
  expect(hash).not.toContain('lantern-light');
  expect(await passwordFits('lantern-light', hash)).toBe(true);
  expect(await passwordFits('lantern-lights', hash)).toBe(false);
  expect(await passwordFits('anything', 'nonsense')).toBe(false);
});

test.each(['rtmp://live.example.net/app/abcd-KEY: Operation not permitted', '{"key":"abcd-KEY","x":1}', 'token=abcd-KEY more', 'authorization: abcd-KEY'])(
  'a key is taken out of "%s"',
  (text) => {
    expect(withoutSecrets(text)).not.toContain('abcd-KEY');
  },
);

test('the far end’s own words come out of the process’s', () => {
  expect(plainReason('[rtmp @ 0x3c98] Server error: This key is not known here. rtmp://127.0.0.1:4735/reelmoor: Operation not permitted')).toBe(
    'This key is not known here',
  );
  expect(plainReason('av_interleaved_write_frame(): Broken pipe')).toBe('it hung up');
});

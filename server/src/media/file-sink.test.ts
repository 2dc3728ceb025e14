// Disks as they are: slow, full, gone. Whoever hands bytes over never waits.
import { readFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FileSink } from './file-sink';

const folder = mkdtempSync(join(tmpdir(), 'lantern-sink-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A disk that takes what it is told to take, when it is told to. */
class TestDisk {
  readonly took: string[] = [];
  readonly calls: string[] = [];
  full = false;
  private waiting: (() => void)[] = [];
  constructor(private slow: boolean) {}

  goOn(): void {
    this.slow = false;
    for (const wake of this.waiting.splice(0)) wake();
  }

  open = async () => this as never;
  async appendFile(bytes: Uint8Array): Promise<void> {
    if (this.slow) await new Promise<void>((wake) => this.waiting.push(wake));
    if (this.full) throw Object.assign(new Error('no space left on device'), { code: 'ENOSPC' });
    this.took.push(Buffer.from(bytes).toString());
    this.calls.push('write');
  }
  async datasync(): Promise<void> {
    this.calls.push('datasync');
  }
  async sync(): Promise<void> {
    this.calls.push('sync');
  }
  async close(): Promise<void> {
    this.calls.push('close');
  }
}
const pause = () => new Promise((resolve) => setTimeout(resolve, 10));

test('keeps all in its order, on the disk itself before it is said to be kept', async () => {
  const path = join(folder, 'whole');
  const sink = new FileSink(path);
  let settled = 0;
  for (let at = 0; at < 200; at++) sink.write(Buffer.from(`${at} `), () => (settled += 1));
  expect(await sink.close()).toBe(true);
  expect(readFileSync(path, 'utf8')).toBe(Array.from({ length: 200 }, (_, at) => `${at} `).join(''));
  expect([settled, sink.backlogBytes, await sink.close()]).toEqual([200, 0, true]);
  const disk = new TestDisk(false);
  const synced = new FileSink('x', { open: disk.open });
  synced.write(Buffer.from('a'));
  await synced.close();
  expect(disk.calls).toEqual(['write', 'sync', 'close']);
});

test('a disk that is full breaks off what is kept, answers whoever waits, and takes nothing more', async () => {
  const disk = new TestDisk(true);
  const sink = new FileSink('x', { open: disk.open });
  const settled: string[] = [];
  for (const name of ['a', 'b', 'c']) sink.write(Buffer.from(name), () => settled.push(name));
  await pause();
  expect(settled).toEqual([]);
  disk.full = true;
  disk.goOn();
  await pause();
  expect([settled.sort(), sink.trouble]).toEqual([['a', 'b', 'c'], 'no space left on device']);
  sink.write(Buffer.from('d'), () => settled.push('d'));
  expect([settled.includes('d'), await sink.close(), disk.took]).toEqual([true, false, []]);
});

test('behind a slow disk no more waits than is allowed', async () => {
  const disk = new TestDisk(true);
  const sink = new FileSink('x', { open: disk.open, mostWaitingBytes: 1_000 });
  let most = 0;
  for (let at = 0; at < 50; at++) {
    sink.write(Buffer.alloc(100));
    most = Math.max(most, sink.backlogBytes);
    if (at === 0) await pause();
  }
  expect(most).toBeLessThanOrEqual(1_000);
  expect(sink.trouble).toBe('the disk is too slow');
  disk.goOn();
  expect(await sink.close()).toBe(false);
});

test('a folder that is not there is told, and not thrown', async () => {
  const sink = new FileSink(join(folder, 'nowhere', 'file'));
  let settled = false;
  sink.write(Buffer.from('a'), () => (settled = true));
  expect([await sink.close(), settled]).toEqual([false, true]);
  expect(sink.trouble).toContain('ENOENT');
});

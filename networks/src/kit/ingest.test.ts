// The ingest with real encoders: who is let in, what is too much, and how the backup address takes over.
import { spawn, type ChildProcess } from 'node:child_process';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { Ingest, type Admission } from './ingest';

const FFMPEG = process.env.FFMPEG_PATH ?? ffmpegPackage.path;
const admission = (backup: boolean, change: Partial<Admission> = {}): Admission => ({
  network: 'reelmoor',
  lineId: 'l',
  eventId: 'e',
  backup,
  maxHeight: 720,
  maxKbps: 4_000,
  ...change,
});
let ingest: Ingest;
let port = 0;
const heard: string[] = [];
let bytesOf: Record<string, number> = {};
const encoders: { child: ChildProcess; said: () => string }[] = [];

beforeEach(async () => {
  heard.length = 0;
  bytesOf = {};
  ingest = new Ingest();
  ingest.use(
    async (app, key) => {
      if (key === 'good') return admission(app === 'app-backup');
      if (key === 'narrow') return admission(false, { maxKbps: 10 });
      return 'This key is not known here.';
    },
    {
      arrived: ({ backup }) => heard.push(backup ? 'backup arrived' : 'arrived'),
      bytes: ({ backup }, flv) => (bytesOf[String(backup)] = (bytesOf[String(backup)] ?? 0) + flv.length),
      gone: ({ backup }) => heard.push(backup ? 'backup gone' : 'gone'),
    },
    () => false,
  );
  await ingest.listen(0);
  port = (ingest as unknown as { server: { address(): { port: number } } }).server.address().port;
});
afterEach(async () => {
  for (const { child } of encoders.splice(0)) child.kill('SIGKILL');
  ingest.onApplicationShutdown();
});

function encoder(app: string, key: string, size = '320x180', rate = '200k'): { child: ChildProcess; said: () => string; gone: Promise<void> } {
  let said = '';
  const child = spawn(
    FFMPEG,
    [
      '-v',
      'error',
      '-re',
      '-f',
      'lavfi',
      '-i',
      `testsrc=s=${size}:r=15`,
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-b:v',
      rate,
      '-g',
      '15',
      '-t',
      '40',
      '-f',
      'flv',
    ].concat([`rtmp://127.0.0.1:${port}/${app}/${key}`]),
  );
  child.stderr!.on('data', (text) => (said += String(text)));
  const gone = new Promise<void>((done) => child.once('close', () => done()));
  encoders.push({ child, said: () => said });
  return { child, said: () => said, gone };
}

async function until(holds: () => boolean, what: string): Promise<void> {
  const end = Date.now() + 25_000;
  while (!holds()) {
    if (Date.now() > end) throw new Error(`it never came about: ${what}`);
    await new Promise((pause) => setTimeout(pause, 50));
  }
}

test('a key that is not known is refused in words, one that is good is let in', async () => {
  const refused = encoder('app', 'made-up');
  await refused.gone;
  expect(refused.said()).toContain('This key is not known here.');
  expect(heard).toEqual([]);
  encoder('app', 'good');
  await until(() => ingest.pictureArrives('e'), 'a picture');
  expect(heard).toEqual(['arrived']);
});

test('a picture with too many lines is hung up on, with the limit', async () => {
  const large = encoder('app', 'good', '1920x1080');
  await large.gone;
  expect(large.said()).toContain('Pictures have 720 lines at most here; this one has 1080.');
  await until(() => heard.includes('gone'), 'gone');
});

test('a picture that is far heavier than allowed is hung up on after ten seconds', async () => {
  const heavy = encoder('app', 'narrow', '640x360', '600k');
  await until(() => ingest.pictureArrives('e'), 'a picture');
  await heavy.gone;
  expect(heavy.said()).toMatch(/Pictures may have 10 kbit\/s here; this one has \d+\./);
});

test('the backup stands by, takes over when the primary goes, and gives way when it returns', async () => {
  const primary = encoder('app', 'good');
  await until(() => ingest.pictureArrives('e'), 'the primary');
  encoder('app-backup', 'good');
  await new Promise((pause) => setTimeout(pause, 2_000));
  expect(heard).toEqual(['arrived']);
  expect(bytesOf.true).toBeUndefined();
  primary.child.kill('SIGKILL');
  await until(() => heard.includes('backup arrived') && (bytesOf.true ?? 0) > 0, 'the backup');
  expect(heard).toEqual(['arrived', 'gone', 'backup arrived']);
  await until(() => ingest.pictureArrives('e'), 'a picture from the backup');
  encoder('app', 'good');
  await until(() => heard.length === 5, 'the primary again');
  expect(heard.slice(3)).toEqual(['backup gone', 'arrived']);
  expect(ingest.drop({ lineId: 'l' })).toBe(2);
  await until(() => !ingest.pictureArrives('e'), 'nothing');
});

// The process in which files of strangers are read. It takes one job after the other and keeps nothing of them.
import { setPriority } from 'node:os';
import sharp from 'sharp';
import { PlainError } from '../foundation/errors';
import { doJob, type Job } from './jobs';

// A show may be on air: whatever is read here gives way to it, and takes one core at the most.
try {
  setPriority(10);
} catch {
  // Some systems do not let a process step back; then it does not.
}
sharp.concurrency(1);
sharp.cache(false);

process.on('message', ({ number, job }: { number: number; job: Job }) => {
  doJob(job).then(
    (answer) => process.send!({ number, answer }),
    (error: unknown) =>
      process.send!(
        error instanceof PlainError
          ? { number, refused: { status: error.status, words: error.words } }
          : { number, trouble: error instanceof Error ? error.message : String(error) },
      ),
  );
});
// Only now does the time of a job begin: coming up takes its own on a busy machine.
process.send!('ready');
// Without whoever asked there is nothing to do.
process.on('disconnect', () => process.exit(0));

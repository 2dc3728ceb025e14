// The one place that reads the time. LANTERN_CLOCK_FILE may name a file of milliseconds by which the
// clock is ahead, so that a run can be brought to any moment of a show without waiting for it.
import { instant, type Instant } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { readFileSync } from 'node:fs';

@Injectable()
export class Clock {
  private readonly file = process.env.LANTERN_CLOCK_FILE;

  now(): Instant {
    if (!this.file) return instant(Date.now());
    try {
      return instant(Date.now() + (Number(readFileSync(this.file, 'utf8')) || 0));
    } catch {
      return instant(Date.now());
    }
  }
}

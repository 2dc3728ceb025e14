// How fast a stage's line is: takes so many bytes, and keeps none of them.
import { UPLINK_TRIAL_BYTES } from '@lantern/contract';
import { Controller, HttpCode, Post, Req } from '@nestjs/common';
import { SkipThrottle, Throttle } from '@nestjs/throttler';
import type { Request } from 'express';
import { PlainError } from '../foundation/errors';
import { May } from '../people/signed-in';

/** A line that takes longer tells enough by that. */
const MAY_TAKE_MS = 15_000;

@Controller('api/uplink')
export class UplinkController {
  @May('go on air')
  @SkipThrottle({ default: false })
  @Throttle({ default: { ttl: 60_000, limit: 20 } })
  @Post()
  @HttpCode(204)
  async take(@Req() request: Request): Promise<void> {
    const timer = setTimeout(() => request.destroy(), MAY_TAKE_MS);
    try {
      let bytes = 0;
      for await (const piece of request as AsyncIterable<Buffer>) {
        bytes += piece.length;
        if (bytes > UPLINK_TRIAL_BYTES) throw new PlainError(413, `The trial of a line is ${UPLINK_TRIAL_BYTES} bytes, and no more.`);
      }
    } finally {
      clearTimeout(timer);
    }
  }
}

// Counts tries by where they come from: by the visitor's own address behind a trusted proxy, and by the block in IPv6.
import { Inject, Injectable } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { getOptionsToken, getStorageToken, ThrottlerGuard, type ThrottlerModuleOptions, type ThrottlerStorage } from '@nestjs/throttler';
import type { Request } from 'express';
import { SETTINGS, type Settings } from '../foundation/settings';
import { addressBlock, visitorAddress } from '../foundation/visitor-address';

@Injectable()
export class VisitorThrottlerGuard extends ThrottlerGuard {
  constructor(
    @Inject(getOptionsToken()) options: ThrottlerModuleOptions,
    @Inject(getStorageToken()) storage: ThrottlerStorage,
    reflector: Reflector,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    super(options, storage, reflector);
  }

  protected override getTracker(request: Request): Promise<string> {
    return Promise.resolve(addressBlock(visitorAddress(request, this.settings.proxies)));
  }
}

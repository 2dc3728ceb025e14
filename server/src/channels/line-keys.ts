// Sealing and opening the keys of typed-in lines.
import { readIngestAddress, readKey } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { Clock } from '../foundation/clock';
import { Vault } from '../foundation/vault';
import type { Line } from './line.entities';

export interface TypedInLine {
  name: string;
  address: string;
  backupAddress?: string | undefined;
  key: string;
  heldBy?: string | undefined;
}

@Injectable()
export class LineKeys {
  constructor(
    private readonly vault: Vault,
    private readonly clock: Clock,
  ) {}

  /** A line as typed in; address and key have been checked by their request class. */
  typedIn(channelId: string, { name, address, backupAddress, key, heldBy }: TypedInLine): Line {
    return {
      id: randomUUID(),
      channelId,
      name: name.trim(),
      remoteId: null,
      airingId: null,
      address: plainAddress(address),
      backupAddress: backupAddress ? plainAddress(backupAddress) : null,
      sealed: this.seal(key),
      heldBy: heldBy?.trim() ?? '',
      lastUsedAt: null,
      createdAt: this.clock.now(),
    };
  }

  seal(key: string): string {
    return this.vault.seal({ key: readKey(key)!.key });
  }

  /** The key of a typed-in line; null when it cannot be read any more. */
  open(line: Line): string | null {
    return line.sealed === null ? null : (this.vault.open<{ key: string }>(line.sealed)?.key ?? null);
  }
}

function plainAddress(text: string): string {
  const reading = readIngestAddress(text);
  return reading.ok ? reading.address : text.trim();
}

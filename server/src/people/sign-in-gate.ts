// Growing waits for whoever gets a password wrong: by account, and by the address that tries, each for itself.
import { HOUR_MS, MINUTE_MS } from '@lantern/core';
import { PlainError } from '../foundation/errors';

/** Slips of the fingers cost nothing. */
const FREE = 5;
const FIRST_WAIT_MS = 2_000;
/** An account is never shut for long: whoever guesses must not keep its owner out. An address may be. */
const MOST_MS = { account: MINUTE_MS, address: 15 * MINUTE_MS };
const FORGOTTEN_AFTER_MS = HOUR_MS;
/** Nobody can fill the memory by naming accounts. */
const MOST_KNOWN = 20_000;

interface Tries {
  wrong: number;
  until: number;
  last: number;
}

export class SignInGate {
  private readonly known = new Map<string, Tries>();

  constructor(private readonly now: () => number = Date.now) {}

  /** Throws where one of the two still has to wait. */
  pass(account: string, address: string): void {
    const until = Math.max(this.tries(`account ${account}`).until, this.tries(`address ${address}`).until);
    const left = until - this.now();
    if (left <= 0) return;
    const seconds = Math.ceil(left / 1_000);
    throw new PlainError(429, `Too many tries went wrong. Wait ${seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`}, then try again.`);
  }

  wrong(account: string, address: string): void {
    this.count(`account ${account}`, MOST_MS.account);
    this.count(`address ${address}`, MOST_MS.address);
  }

  /** The right password: the account begins anew. The address does not, or one account of its own would open it to others. */
  right(account: string): void {
    this.known.delete(`account ${account}`);
  }

  /** Everybody begins anew. */
  forget(): void {
    this.known.clear();
  }

  private tries(key: string): Tries {
    const known = this.known.get(key);
    if (known && this.now() - known.last < FORGOTTEN_AFTER_MS) return known;
    this.known.delete(key);
    return { wrong: 0, until: 0, last: 0 };
  }

  private count(key: string, mostMs: number): void {
    const wrong = this.tries(key).wrong + 1;
    const waitMs = wrong <= FREE ? 0 : Math.min(mostMs, FIRST_WAIT_MS * 2 ** (wrong - FREE - 1));
    // Put in anew, so that the first of the map is the one that was longest idle.
    this.known.delete(key);
    this.known.set(key, { wrong, until: this.now() + waitMs, last: this.now() });
    if (this.known.size > MOST_KNOWN) this.known.delete(this.known.keys().next().value!);
  }
}

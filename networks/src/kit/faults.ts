// Trouble on demand, one switch per network, so that the product's answers to it can be seen.
import { Injectable } from '@nestjs/common';
import type { Network } from './entities';

export const FAULTS = [
  'none',
  'refuse',
  'stall',
  'slow',
  'silent',
  'down',
  'broken',
  'busy',
  'busy-unsaid',
  'page',
  'empty',
  'wrong-shape',
  'half',
  'lose-answer',
  'goes-on',
] as const;
export type Fault = (typeof FAULTS)[number];

export const FAULT_WORDS: Record<Fault, string> = {
  none: 'Works as it should',
  refuse: 'Refuses every picture at the ingest',
  stall: 'Accepts a picture, then stops reading it',
  slow: 'Answers every request four seconds late',
  silent: 'Takes requests and never answers',
  down: 'Is not available at all, and drops every picture',
  broken: 'Answers every request with a failure of its own',
  busy: 'Is too busy for every first try, and says when to come back',
  'busy-unsaid': 'Is too busy, and does not say for how long',
  page: 'Answers with a page instead of data',
  empty: 'Answers every request with an object in which nothing stands',
  'wrong-shape': 'Carries out requests, but answers them with fields of another kind',
  half: 'Breaks off in the middle of its answers',
  'lose-answer': 'Carries out a request, then hangs up without an answer',
  'goes-on': 'Takes the end of a show, and goes on with it',
};

@Injectable()
export class Faults {
  private readonly byNetwork = new Map<Network, Fault>();
  private readonly triedOnce = new Set<string>();

  of(network: Network): Fault {
    return this.byNetwork.get(network) ?? 'none';
  }

  set(network: Network, fault: Fault): void {
    this.byNetwork.set(network, fault);
    this.triedOnce.clear();
  }

  /** True at every first, third, fifth … try of the same request. */
  firstTry(request: string): boolean {
    if (this.triedOnce.delete(request)) return false;
    this.triedOnce.add(request);
    return true;
  }
}

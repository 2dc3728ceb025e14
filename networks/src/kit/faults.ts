// Trouble on demand, one switch per network, so that the product's answers to it can be seen.
import { Injectable } from '@nestjs/common';
import type { Network } from './entities';

export const FAULTS = ['none', 'refuse', 'stall', 'slow', 'down', 'lose-answer'] as const;
export type Fault = (typeof FAULTS)[number];

export const FAULT_WORDS: Record<Fault, string> = {
  none: 'Works as it should',
  refuse: 'Refuses every picture at the ingest',
  stall: 'Accepts a picture, then stops reading it',
  slow: 'Answers every request four seconds late',
  down: 'Does not answer at all, and drops every picture',
  'lose-answer': 'Carries out a request, then hangs up without an answer',
};

@Injectable()
export class Faults {
  private readonly byNetwork = new Map<Network, Fault>();

  of(network: Network): Fault {
    return this.byNetwork.get(network) ?? 'none';
  }

  set(network: Network, fault: Fault): void {
    this.byNetwork.set(network, fault);
  }
}

// Whether a network answers at all, known once for all who would ask it. While it does not, what nobody waits for is not asked: one
// silent network must not hold up what is done about the others. People are never kept from trying.
import type { NetworkId } from '@lantern/core';

/** Silent so often in a row, it counts as down. */
const SILENCES = 4;
/** After so long one request is let through to see; the wait doubles up to the longest. */
const FIRST_REST_MS = 5_000;
const LONGEST_REST_MS = 60_000;

interface State {
  silences: number;
  /** When it is asked once again; null: it answers. */
  restsUntil: number | null;
  restMs: number;
  /** Whether the one request that looks is on its way. */
  looking: boolean;
}

export class NetworkHealth {
  private readonly states = new Map<NetworkId, State>();

  constructor(private readonly now: () => number) {}

  /** Whether a request that nobody waits for may be sent. The one that may after a rest has to be told of by `heard` or `silent`. */
  mayAsk(network: NetworkId): boolean {
    const state = this.states.get(network);
    if (!state || state.restsUntil === null) return true;
    if (state.looking || this.now() < state.restsUntil) return false;
    state.looking = true;
    return true;
  }

  /** It answered, whatever it said. */
  heard(network: NetworkId): void {
    this.states.delete(network);
  }

  silent(network: NetworkId): void {
    const state = this.states.get(network) ?? { silences: 0, restsUntil: null, restMs: FIRST_REST_MS, looking: false };
    state.silences += 1;
    state.looking = false;
    if (state.silences >= SILENCES) {
      state.restsUntil = this.now() + state.restMs;
      state.restMs = Math.min(LONGEST_REST_MS, state.restMs * 2);
    }
    this.states.set(network, state);
  }
}

// A guest's connections: to the stage, and while it is handed over also to the one that is about to have it, so that nobody is missing when the show
// goes on there.
import type { GuestSignal } from '@lantern/contract';
import { GuestEnd, type GuestEndEvents, type LinkFacts, type OwnTracks, type Ways } from './guest-link';

type Returns = Parameters<GuestEndEvents['returns']>[0];

export interface StageLinesEvents {
  /** `to`: the page of a stage. */
  send(to: string, signal: GuestSignal): void;
  /** What comes back from whoever has the stage. */
  returns(tracks: Returns): void;
  /** Whether that one is reached. */
  connected(yes: boolean): void;
}

interface Line {
  end: Pick<GuestEnd, 'connect' | 'disconnect' | 'hear' | 'send' | 'fit' | 'facts'>;
  returns: Returns | null;
  linked: boolean;
}

export class StageLines {
  private readonly lines = new Map<string, Line>();
  private page: string | null = null;
  private own: Partial<OwnTracks> = {};

  constructor(
    private readonly events: StageLinesEvents,
    private readonly make: (events: GuestEndEvents) => Line['end'] = (each) => new GuestEnd(each),
  ) {}

  /** Speaks with the stage of that page from now on, and with the one that is about to have the show; null: there is none. */
  speakWith(page: string | null, coming: string | null, ways: Ways): void {
    const another = page !== this.page;
    this.page = page;
    for (const known of [...this.lines.keys()]) if (known !== page && known !== coming) this.leave(known);
    for (const wanted of [page, coming]) {
      if (wanted === null) continue;
      const known = this.lines.get(wanted);
      // The same stage is not spoken with anew because the line to the server broke: pictures do not pass there.
      if (!known?.linked && !(known && wanted === coming)) (known ?? this.lineTo(wanted)).end.connect(ways);
    }
    if (!another) return;
    const line = page === null ? undefined : this.lines.get(page);
    if (line?.returns) this.events.returns(line.returns);
    this.events.connected(line?.linked ?? false);
  }

  hear(from: string, signal: GuestSignal): void {
    this.lines.get(from)?.end.hear(signal);
  }

  /** A picture of this height is enough there. */
  fit(from: string, height: number): void {
    this.lines.get(from)?.end.fit(height);
  }

  /** What is sent from now on, to whichever stage; null: nothing. */
  send(own: Partial<OwnTracks>): void {
    this.own = { ...this.own, ...own };
    for (const { end } of this.lines.values()) end.send(own);
  }

  async facts(): Promise<LinkFacts | null> {
    const line = this.page === null ? undefined : this.lines.get(this.page);
    return line ? line.end.facts() : null;
  }

  close(): void {
    for (const page of [...this.lines.keys()]) this.leave(page);
    this.page = null;
  }

  private lineTo(page: string): Line {
    const end = this.make({
      send: (signal) => this.events.send(page, signal),
      returns: (tracks) => {
        line.returns = tracks;
        if (page === this.page) this.events.returns(tracks);
      },
      connected: (linked) => {
        line.linked = linked;
        if (page === this.page) this.events.connected(linked);
      },
    });
    const line: Line = { end, returns: null, linked: false };
    this.lines.set(page, line);
    end.send(this.own);
    return line;
  }

  private leave(page: string): void {
    const line = this.lines.get(page);
    this.lines.delete(page);
    line?.end.disconnect();
  }
}

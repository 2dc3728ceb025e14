// Who talks to networks about a show, and when. Placing, moving, withdrawing, looking and taking over change the same rows by what
// they hear, so one waits for the other; what goes on about one airing alone holds up no other airing.
import { Injectable } from '@nestjs/common';
import { Refused } from '../foundation/errors';

interface Talk {
  showId: string;
  /** Null: about the whole show. */
  airingId: string | null;
  /** Whether a person waits for it. */
  pressed: boolean;
  begin: () => void;
}

const meet = (a: Talk, b: Talk): boolean => a.showId === b.showId && (a.airingId === null || b.airingId === null || a.airingId === b.airingId);

@Injectable()
export class NetworkTalk {
  /** All that goes on or waits, in the order in which it came. */
  private readonly talks = new Set<Talk>();
  private readonly going = new Set<Talk>();

  /** What somebody has pressed. Refused while an earlier press is still being answered: a second press must not do it once more. */
  press<T>(showId: string, work: () => Promise<T>): Promise<T> {
    for (const talk of this.talks) {
      if (talk.showId === showId && talk.pressed) return Promise.reject(new Refused('placing: being asked'));
    }
    return this.talk({ showId, airingId: null, pressed: true }, work);
  }

  /** What is done without anybody pressing: waits for its turn. With an `airingId` only for what concerns that airing. */
  inTurn<T>(showId: string, airingId: string | null, work: () => Promise<T>): Promise<T> {
    return this.talk({ showId, airingId, pressed: false }, work);
  }

  private async talk<T>(asked: Omit<Talk, 'begin'>, work: () => Promise<T>): Promise<T> {
    let begin: () => void = () => undefined;
    const turn = new Promise<void>((resolve) => (begin = resolve));
    const talk: Talk = { ...asked, begin };
    this.talks.add(talk);
    this.next();
    await turn;
    try {
      return await work();
    } finally {
      this.talks.delete(talk);
      this.going.delete(talk);
      this.next();
    }
  }

  /** Begins whatever meets nothing that goes on, and nothing that has waited for longer. */
  private next(): void {
    const before: Talk[] = [];
    for (const talk of this.talks) {
      const free = !this.going.has(talk) && !before.some((earlier) => meet(earlier, talk));
      before.push(talk);
      if (!free) continue;
      this.going.add(talk);
      talk.begin();
    }
  }
}

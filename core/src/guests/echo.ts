// Whether a guest hears the programme by loudspeaker: then what they are sent comes back with their microphone, a little later.

/** Levels are heard so often. */
export const ECHO_EVERY_MS = 80;
/** The longest way there, through the room and back. */
const LONGEST_LAG = 12;
/** Eight seconds: enough of speech and pauses to tell an echo from an answer. */
const WINDOW = 100;
const LIKE = 0.72;
/** The programme is heard, and swings: a constant sound says nothing. */
const LEAST_SPREAD_DB = 5;
const LEAST_DB = -55;
/** Said once it was found so many times in a row, one look a second; taken back as slowly. */
const SURE = 3;
const LOOK_EVERY = 12;

/** Compares two envelopes in dB: what goes to the guest, and what comes from their microphone. */
export class EchoWatch {
  private readonly sent: number[] = [];
  private readonly came: number[] = [];
  private heard = 0;
  private found = 0;
  private said = false;

  /** Hears both levels (RMS, dB) of the last 80 ms; says whether there is an echo. */
  hear(sentDb: number, cameDb: number): boolean {
    this.sent.push(Math.max(sentDb, -80));
    this.came.push(Math.max(cameDb, -80));
    if (this.sent.length > WINDOW + LONGEST_LAG) this.sent.shift();
    if (this.came.length > WINDOW) this.came.shift();
    if (++this.heard % LOOK_EVERY === 0 && this.sent.length === WINDOW + LONGEST_LAG) {
      const is = this.isLike();
      if (is !== null) {
        this.found = Math.max(-SURE, Math.min(SURE, is ? Math.max(0, this.found) + 1 : Math.min(0, this.found) - 1));
        if (this.found >= SURE) this.said = true;
        if (this.found <= -SURE) this.said = false;
      }
    }
    return this.said;
  }

  /** Null: nothing can be told, since nothing is sent to them. */
  private isLike(): boolean | null {
    const { came } = this;
    let best = -1;
    for (let lag = 0; lag <= LONGEST_LAG; lag++) {
      const sent = this.sent.slice(LONGEST_LAG - lag, LONGEST_LAG - lag + WINDOW);
      if (spread(sent) < LEAST_SPREAD_DB || mean(sent) < LEAST_DB) return null;
      best = Math.max(best, correlation(sent, came));
    }
    return best > LIKE && spread(came) > LEAST_SPREAD_DB / 2;
  }
}

const mean = (all: readonly number[]): number => all.reduce((sum, each) => sum + each, 0) / all.length;
const spread = (all: readonly number[]): number => {
  const middle = mean(all);
  return Math.sqrt(mean(all.map((each) => (each - middle) ** 2)));
};

/** Pearson's, from −1 to 1; 0 where one of both does not move. */
function correlation(one: readonly number[], other: readonly number[]): number {
  const [m, n] = [mean(one), mean(other)];
  let [both, first, second] = [0, 0, 0];
  for (let at = 0; at < one.length; at++) {
    const [a, b] = [one[at]! - m, other[at]! - n];
    both += a * b;
    first += a * a;
    second += b * b;
  }
  return first && second ? both / Math.sqrt(first * second) : 0;
}

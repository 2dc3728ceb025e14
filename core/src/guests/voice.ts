// Who stands in a seat that follows the voice: whoever speaks, held for a while, so that a cough changes nothing.

export interface Voice<Who extends string> {
  who: Who;
  /** RMS over the last tenth of a second, in dB. */
  db: number;
}

const SPEAKS_DB = -45;
/** Somebody else must speak for so long, and be louder by so much than whoever stands there. */
const SPEAKS_FOR_MS = 700;
const LOUDER_DB = 3;
/** Whoever has come in stays for so long, whatever happens. */
const STAYS_MS = 2_000;

export class VoiceFollow<Who extends string> {
  private stands: Who | null = null;
  private since = -Infinity;
  private readonly speaksSince = new Map<Who, number>();

  /** Hears all who may stand there at `now` (ms); whoever is muted or not brought in is not among them. Says who stands there. */
  hear(voices: readonly Voice<Who>[], now: number): Who | null {
    for (const { who, db } of voices) {
      if (db < SPEAKS_DB) this.speaksSince.delete(who);
      else if (!this.speaksSince.has(who)) this.speaksSince.set(who, now);
    }
    for (const who of this.speaksSince.keys()) if (!voices.some((each) => each.who === who)) this.speaksSince.delete(who);
    const standing = voices.find(({ who }) => who === this.stands);
    if (!standing) return this.put(voices[0]?.who ?? null, now);
    if (now - this.since < STAYS_MS) return this.stands;
    const others = voices.filter(({ who, db }) => {
      const since = this.speaksSince.get(who);
      const louder = standing.db < SPEAKS_DB || db > standing.db + LOUDER_DB;
      return who !== this.stands && since !== undefined && now - since >= SPEAKS_FOR_MS && louder;
    });
    const [loudest] = others.sort((a, b) => b.db - a.db);
    return loudest ? this.put(loudest.who, now) : this.stands;
  }

  private put(who: Who | null, now: number): Who | null {
    if (who !== this.stands) this.since = now;
    this.stands = who;
    return who;
  }
}

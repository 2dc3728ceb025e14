// Takes as numbered commands: said again until they are acknowledged, done once and in their order, however often
// the line between a stage and the server breaks.

/** How many tabs are remembered with the number of their last command. */
const TABS_REMEMBERED = 64;

export interface Command<What> {
  /** Counts the commands of one tab, from 1. */
  number: number;
  what: What;
}

/** On the server: what has been done already, by tab. */
export type Done = ReadonlyMap<string, number>;

/** Whether a command is to be done, and what is remembered then. What was done before is acknowledged again and not done again. */
export function commandHeard(done: Done, tab: string, number: number): { isNew: boolean; done: Done } {
  if (number <= (done.get(tab) ?? 0)) return { isNew: false, done };
  const next = new Map(done);
  // The one that spoke last is forgotten last.
  next.delete(tab);
  next.set(tab, number);
  if (next.size > TABS_REMEMBERED) next.delete(next.keys().next().value!);
  return { isNew: true, done: next };
}

/** On the stage: what has been pressed and not been acknowledged yet. */
export class CommandsSaid<What> {
  private waiting: Command<What>[] = [];

  constructor(private last = 0) {}

  say(what: What): Command<What> {
    const command = { number: ++this.last, what };
    this.waiting.push(command);
    return command;
  }

  /** All up to this number have been done, or were refused. */
  acknowledged(number: number): void {
    this.waiting = this.waiting.filter((command) => command.number > number);
  }

  /** What is to be said again on a new line, in the order of the presses. */
  get unheard(): readonly Command<What>[] {
    return this.waiting;
  }
}

// One connection between the two processes of the product: questions with answers and things told, as lines of JSON
// (RFC 8259) over a socket of this machine. Each message is checked before anybody acts on it, on both sides.
import { Logger } from '@nestjs/common';
import type { Socket } from 'node:net';
import { letGo } from '../foundation/let-go';

const LONGEST_LINE = 1_000_000;
const ANSWER_MAY_TAKE_MS = 5_000;
/** What waits to be taken by the other side; beyond, it is taken for gone. */
const BACKLOG_BYTES = 8_000_000;

/** The other side could not be asked, gave no answer, or refused; the message says which. */
export class WireTrouble extends Error {}

/** What one side hears: the name of a question or of something told, and its body, unchecked. */
export type Hear = (name: string, body: unknown) => unknown;

type Line = { ask: number; name: string; body: unknown } | { answer: number; body?: unknown; refused?: string } | { tell: string; body: unknown };

export class Wire {
  private readonly log = new Logger('wire');
  private readonly waiting = new Map<number, { done: (body: unknown) => void; failed: (error: Error) => void; timer: NodeJS.Timeout }>();
  private asked = 0;
  private rest = '';
  private closed = false;

  constructor(
    private readonly socket: Socket,
    private readonly hear: Hear,
    onGone: () => void,
  ) {
    socket.setEncoding('utf8');
    socket.on('data', (text: string) => this.take(text));
    socket.on('error', (error) => this.log.warn(error.message));
    socket.on('close', () => {
      this.closed = true;
      for (const { failed, timer } of this.waiting.values()) {
        clearTimeout(timer);
        failed(new WireTrouble('The other process is gone.'));
      }
      this.waiting.clear();
      onGone();
    });
  }

  /** Asks and waits for the answer. Throws WireTrouble. */
  ask<Answer>(name: string, body: object, mayTakeMs = ANSWER_MAY_TAKE_MS): Promise<Answer> {
    if (this.closed) return Promise.reject(new WireTrouble('The other process is gone.'));
    const ask = ++this.asked;
    return new Promise<Answer>((resolve, failed) => {
      const timer = setTimeout(() => {
        this.waiting.delete(ask);
        failed(new WireTrouble(`The other process gave no answer to “${name}”.`));
      }, mayTakeMs);
      this.waiting.set(ask, { done: (answer) => resolve(answer as Answer), failed, timer });
      this.send({ ask, name, body });
    });
  }

  tell(name: string, body: object): void {
    if (!this.closed) this.send({ tell: name, body });
  }

  close(): void {
    this.socket.destroy();
  }

  private send(line: Line): void {
    if (this.socket.writableLength > BACKLOG_BYTES) return this.close();
    this.socket.write(`${JSON.stringify(line)}\n`);
  }

  private take(text: string): void {
    const lines = (this.rest + text).split('\n');
    this.rest = lines.pop()!;
    if (this.rest.length > LONGEST_LINE) return this.close();
    for (const line of lines) {
      try {
        this.read(JSON.parse(line) as Line);
      } catch (error) {
        this.log.error(`a line that is not understood: ${error instanceof Error ? error.message : String(error)}`);
        return this.close();
      }
    }
  }

  private read(line: Line): void {
    if ('answer' in line) {
      const asked = this.waiting.get(line.answer);
      if (!asked) return; // It came too late.
      this.waiting.delete(line.answer);
      clearTimeout(asked.timer);
      return line.refused === undefined ? asked.done(line.body ?? null) : asked.failed(new WireTrouble(line.refused));
    }
    if ('tell' in line) return letGo(`hearing ${line.tell}`, this.answerOf(line.tell, line.body));
    letGo(
      `answering ${line.name}`,
      this.answerOf(line.name, line.body).then(
        (body) => this.closed || this.send({ answer: line.ask, body }),
        (error: unknown) => {
          const refused = error instanceof Error ? error.message : String(error);
          this.log.warn(`${line.name}: ${refused}`);
          if (!this.closed) this.send({ answer: line.ask, refused });
        },
      ),
    );
  }

  private async answerOf(name: string, body: unknown): Promise<unknown> {
    return this.hear(name, body);
  }
}

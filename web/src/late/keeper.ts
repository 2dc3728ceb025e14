/** Where pieces are kept that did not reach the server in time. `next`: of a recorder whose stretch has no number yet. */
export interface LateKeeper {
  /** Keeps the next piece of a stretch, `from` bytes from its beginning. */
  keep(stretch: number | 'next', from: number, bytes: ArrayBuffer): void;
  /** The stretch has its number now. */
  name(stretch: number): void;
  /** The server has all of it. */
  drop(stretch: number): void;
  /** No more pieces of it come: it may be sent. */
  end(stretch: number | 'next'): void;
  /** The line is there. */
  send(): void;
}

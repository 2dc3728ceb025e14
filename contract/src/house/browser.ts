// How a visitor's browser is known without an account: by a key that it made and keeps, of which the server keeps a digest.
import { Matches } from 'class-validator';

/** Names a browser, or something that it sent, so that this is kept once however often it is sent. */
export const BROWSER_KEY = /^[\w-]{32,64}$/;
export const KEY_NOT_UNDERSTOOD = 'This browser writes in a way that is not understood. Load the page anew.';

/** In the body: what is in an address is in logs. */
export class BrowserNamed {
  @Matches(BROWSER_KEY, { message: KEY_NOT_UNDERSTOOD })
  writer!: string;
}

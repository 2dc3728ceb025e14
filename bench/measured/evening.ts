// An evening to measure: a product of its own, a show at its start, and what reaches the stand-ins.
import type { ShowView } from '@lantern/contract';
import { Captures } from '../../e2e/support/captures';
import { Host } from '../../e2e/support/host';
import { Product } from '../../e2e/support/product';

export interface Evening {
  product: Product;
  host: Host;
  show: ShowView;
  /** The longest wait for a picture on any stand-in since then, in ms. */
  longestWait: (since: number) => number;
  captures: Captures;
}

export async function evening(measure: (of: Evening) => Promise<void>): Promise<void> {
  const captures = new Captures();
  const product = await Product.start(captures.env);
  try {
    const host = new Host(product);
    const longestWait = (since: number) => Math.max(...captures.gaps(since).map(({ longestMs }) => longestMs));
    await measure({ product, host, captures, longestWait, show: await host.showAtItsStart() });
  } finally {
    await product.stop();
  }
}

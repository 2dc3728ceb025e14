import { Injectable } from '@nestjs/common';

/** How many have the page of a show open, by the end of its address. Written by its streams, read by whoever shows it. */
@Injectable()
export class HouseAudience {
  private readonly counts = new Map<string, number>();

  set(slug: string, count: number): void {
    if (count > 0) this.counts.set(slug, count);
    else this.counts.delete(slug);
  }

  count(slug: string): number {
    return this.counts.get(slug) ?? 0;
  }
}

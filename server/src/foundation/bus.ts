// What has happened, for whoever wants to know: one bus for all parts of the server, so that nobody who tells has to know who hears.
import { Injectable } from '@nestjs/common';
import { filter, Subject, type Observable } from 'rxjs';

export type BusEvent =
  /** Its sheet, its airings or its pictures; also that it is new or gone. */
  | { kind: 'show'; showId: string }
  /** How it stands on air. */
  | { kind: 'air'; showId: string }
  /** Its key is good no more: whoever sends by it is hung up on. */
  | { kind: 'outside line closed'; lineId: string }
  | { kind: 'recording'; showId: string }
  /** What visitors ask, and what became of it. */
  | { kind: 'questions'; showId: string }
  /** Messages from its channels. */
  | { kind: 'messages'; showId: string }
  /** What everybody is asked, and the votes. */
  | { kind: 'polls'; showId: string }
  /** Pictures and looks of the library. */
  | { kind: 'library'; stationId: string }
  /** Who belongs to the station, and as what. */
  | { kind: 'team'; stationId: string }
  /** A guest goes by another name; null: their pass is good no more, and whoever is in a green room with it goes. */
  | { kind: 'guest'; guestId: string; name: string | null; caption: string }
  | { kind: 'channels'; stationId: string }
  | { kind: 'jobs'; stationId: string }
  /** A session has ended; `session` is the digest of its token. */
  | { kind: 'session ended'; session: string };

@Injectable()
export class Bus {
  private readonly events = new Subject<BusEvent>();

  /** Tells everybody, at once. Whoever throws on hearing it keeps nobody else from hearing it. */
  tell(event: BusEvent): void {
    this.events.next(event);
  }

  on<Kind extends BusEvent['kind']>(...kinds: Kind[]): Observable<Extract<BusEvent, { kind: Kind }>> {
    return this.events.pipe(filter((event): event is Extract<BusEvent, { kind: Kind }> => (kinds as string[]).includes(event.kind)));
  }
}

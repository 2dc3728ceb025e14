// What the public may know about a show.
export interface HouseView {
  title: string;
  description: string;
  stationName: string;
  state: 'coming' | 'onAir' | 'paused' | 'over' | 'withdrawn';
  startsAt: number;
  zone: string;
  lengthMs: number;
  thumbnailUrl: string | null;
  /** Address of the programme's HLS playlist while it can be watched. */
  playlistUrl: string | null;
  /** The picture goes straight to the channels and cannot be shown here. */
  fromOutside: boolean;
  elsewhere: { name: string; network: string; watchUrl: string }[];
  now: number;
}

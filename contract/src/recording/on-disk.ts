// What recordings take on the disk.

export interface RecordingOnDisk {
  showId: string;
  title: string;
  startsAt: number;
  zone: string;
  /** With its cuts, and all that it was made from. */
  bytes: number;
  cuts: number;
  /** Of so many guests their own sound is kept too. */
  ownSounds: number;
  /** Whether it stands on the house page. */
  shown: boolean;
}

export interface RecordingsOnDisk {
  /** The most that recordings may take; where nobody has said, all that there is. */
  quotaBytes: number | null;
  usedBytes: number;
  /** `little` from four fifths of the quota on. */
  state: 'enough' | 'little' | 'none';
  /** The largest first. */
  recordings: RecordingOnDisk[];
}

// What an outside encoder must be given, in the order in which encoders ask for it.

export interface EncoderSet {
  showTitle: string;
  channelName: string;
  when: string;
  address: string;
  backupAddress: string | null;
  key: string;
  watchUrl: string | null;
}

/** The set as one text for a message or a small file. */
export function encoderSetAsText(set: EncoderSet): string {
  return [
    `${set.showTitle}, on ${set.channelName}`,
    set.when,
    '',
    '1. Address',
    set.address,
    ...(set.backupAddress ? ['   Backup address', set.backupAddress] : []),
    '',
    '2. Key (secret: whoever has it can send a picture)',
    set.key,
    '',
    '3. Where to watch',
    set.watchUrl ?? 'not known yet',
    '',
  ].join('\n');
}

/** A file name without anything that a file system or a shell could take amiss. */
export function encoderSetFileName(set: Pick<EncoderSet, 'showTitle' | 'channelName'>): string {
  const plain = `${set.showTitle} ${set.channelName}`
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase();
  return `encoder-set-${plain.slice(0, 60) || 'show'}.txt`;
}

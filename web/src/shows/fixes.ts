// What a press on the way out of a finding says.
import type { Finding } from '@lantern/core';

const FIX_WORDS: Partial<Record<Finding['subject'], string>> = {
  title: 'Shorten the title here to fit',
  description: 'Shorten the text here to fit',
  startsAt: 'Move the start to that time',
  length: 'Shorten the show to fit',
};

export function fixWords({ code, subject, fix }: Finding): string {
  if (code.startsWith('placeholder-') || code === 'private-in-text') return 'Take it out';
  if (fix && 'visibility' in fix) return code === 'visibility-locked' ? `Leave it for ${fix.visibility}` : `Make it for ${fix.visibility}`;
  return code === 'start-locked' ? 'Leave the start as it stands there' : (FIX_WORDS[subject] ?? 'Put it right');
}

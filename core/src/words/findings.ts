// The one place where findings become sentences. British spelling, no codes, no blame.
import type { Finding } from '../channels/finding';
import { sayReach } from '../channels/rules-in-words';
import { instant } from '../time/instant';
import { sayLength, sayTime, sayWhen } from '../time/zones';

/** A finding as one or two short sentences; `place` names the channel or its network, `zone` is the show's. */
export function sayFinding(finding: Finding, place: string, zone: string): string {
  const fact = finding.facts as Record<string, number>;
  const fixStart = finding.fix && 'startsAt' in finding.fix ? ` The next start it takes is ${sayTime(instant(finding.fix.startsAt), zone)}.` : '';
  switch (finding.code) {
    case 'private-in-text':
      return `There is ${finding.facts.what === 'ingest address' ? 'an ingest address' : finding.facts.what === 'personal link' ? 'a link that is one person’s own' : 'an address that only your network knows'} in this text, which everybody reads.`;
    case 'placeholder-unknown':
      return `Nothing here is called {${finding.facts.name}}. Write one from the list, or take it out.`;
    case 'placeholder-empty':
      return `There is nothing yet to put in place of {${finding.facts.name}}. Fill it in on the sheet, or take it out.`;
    case 'visibility-not-offered':
      return `${place} cannot keep a show to ${finding.facts.wanted}.`;
    case 'visibility-locked':
      return `${place} does not change who may see a show that stands there: it is for ${finding.facts.placed}. Withdraw it and place it again to change that.`;
    case 'children-no-messages':
      return `${place} switches messages off in programmes for children. Say “for children” only if it is; messages have a choice of their own.`;
    case 'title-missing':
      return 'The show needs a title before it can be placed.';
    case 'title-too-long':
      return `${place} takes titles of ${fact.max} characters; this one has ${fact.length}.`;
    case 'text-too-long':
      return `${place} takes ${fact.max!.toLocaleString('en-GB')} characters of text; this has ${fact.length!.toLocaleString('en-GB')}.`;
    case 'text-shortened':
      return `${place} has room for ${fact.max} characters in all: title and text go out as one text, and its end is left off.`;
    case 'start-past':
      return `This start has passed.${fixStart}`;
    case 'start-too-soon':
      return `${place} wants at least ${sayLength(fact.leadMs!)} between placing and start.${fixStart}`;
    case 'start-too-far':
      return `${place} takes shows up to ${sayReach(fact.aheadMs!)} ahead. It is placed there by itself from ${sayWhen(instant(fact.from!), zone)}.`;
    case 'start-off-grid':
      return `${place} starts shows on every ${sayLength(fact.gridMs!)} of the clock only.${fixStart}`;
    case 'start-late':
      return `${place} recommends placing at least ${sayReach(fact.leadMs!)} before the start, so that people hear of it.`;
    case 'start-locked':
      return `${place} does not move a show that stands there: it stays at ${sayWhen(instant(fact.placedAt!), zone)}. To move it, withdraw it and place it again.`;
    case 'begins-on-air':
      return finding.facts.kind === 'profile'
        ? `A profile on ${place} takes nothing in advance: the show begins there when you go on air. For a set time choose the page or the group.`
        : `${place} takes nothing in advance: the show begins there when you go on air.`;
    case 'length-none':
      return 'Say roughly how long the show will be.';
    case 'length-too-long':
      return `${place} ends every show after ${sayLength(fact.longestMs!)}.`;
    case 'recording-cut':
      return `${place} keeps no recording past ${sayLength(fact.recordedMs!)}. The station’s own recording is not affected.`;
    case 'thumbnail-missing':
      return `Without a picture ${place} shows a plain card.`;
    case 'thumbnail-too-small':
      return `${place} wants a picture of at least ${fact.minWidth}×${fact.minHeight}; this one is ${fact.width}×${fact.height}.`;
    case 'thumbnail-needed':
      return `${place} takes no show without a picture. Choose one.`;
    case 'alternative-missing':
      return `${place} wants words for those who cannot see the picture. Write what it shows, beneath it.`;
  }
}

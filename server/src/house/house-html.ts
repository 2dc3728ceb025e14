// The first HTML of public pages: whole without script, right for crawlers. The script that comes with it takes
// over what moves: the countdown, the player, the forms.
import type { HouseView } from '@lantern/contract';
import { broadcastEvent, escapeMarkup as e, instant, sayLength, sayWhen, summaryOf, type PublicShow } from '@lantern/core';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** What stands in the head and the body of a page. */
interface Parts {
  head: string;
  body: string;
  /** For the script that takes over; null: none does. */
  data: object | null;
}

/** The built page with its places for head, body and data. Without a build the words alone are sent. */
export class PageTemplate {
  private text: string | null = null;

  constructor(private readonly webDir: string) {}

  fill({ head, body, data }: Parts): string {
    const path = join(this.webDir, 'house.html');
    this.text ??= existsSync(path)
      ? readFileSync(path, 'utf8')
      : '<!doctype html><html lang="en-GB"><head><!--head--></head><body><div id="root"><!--body--></div><!--data--></body></html>';
    const script = data ? `<script type="application/json" id="data">${json(data)}</script>` : '';
    // Functions, since texts may hold what a replacement string would read as an instruction.
    return this.text
      .replace('<!--head-->', () => head)
      .replace('<!--body-->', () => body)
      .replace('<!--data-->', () => script);
  }
}

/** JSON that cannot end the element that it stands in. */
const json = (data: object): string =>
  JSON.stringify(data)
    .replace(/</g, '\\u003c')
    .replace(/\u2028/g, '\\u2028')
    .replace(/\u2029/g, '\\u2029');

const STATE_WORDS: Record<HouseView['state'], string> = {
  coming: 'Begins',
  onAir: 'On now, since',
  paused: 'A short pause in what began',
  over: 'This show is over. It began',
  withdrawn: 'This show will not take place. It was planned for',
};

/** The page of one show. `listed`: search engines may find it. */
export function showPage(
  view: HouseView,
  show: PublicShow,
  { listed, oembedUrl, embedded }: { listed: boolean; oembedUrl: string | null; embedded: boolean },
): Parts {
  const { title, description, stationName, stationUrl, startsAt, zone, lengthMs, state, people, elsewhere, thumbnailAlternative } = view;
  const summary = summaryOf(description, 200);
  const meta = (name: string, content: string | null) => (content === null ? '' : `<meta property="${name}" content="${e(content)}"/>`);
  const head = [
    `<title>${e(title)} · ${e(stationName)}</title>`,
    summary && `<meta name="description" content="${e(summary)}"/>`,
    listed ? `<link rel="canonical" href="${e(show.url)}"/>` : '<meta name="robots" content="noindex"/>',
    meta('og:type', 'website'),
    meta('og:title', title),
    meta('og:description', summary),
    meta('og:url', show.url),
    meta('og:site_name', stationName),
    meta('og:image', show.pictureUrl),
    show.pictureUrl && meta('og:image:alt', thumbnailAlternative || title),
    oembedUrl && `<link rel="alternate" type="application/json+oembed" href="${e(oembedUrl)}" title="${e(title)}"/>`,
    `<script type="application/ld+json">${json(broadcastEvent(show))}</script>`,
  ];
  const picture = view.thumbnailUrl ? `<img src="${e(view.thumbnailUrl)}" alt="${e(thumbnailAlternative)}" width="1280" height="720"/>` : '';
  const links = elsewhere.map(({ name, network, watchUrl }) => `<li><a href="${e(watchUrl)}">${e(network ? `${name} on ${network}` : name)}</a></li>`);
  const body = `<main class="page"><p><a href="${e(stationUrl)}">${e(stationName)}</a></p>${picture}<h1>${e(title)}</h1>
<p>${STATE_WORDS[state]} <time datetime="${new Date(startsAt).toISOString()}">${e(sayWhen(instant(startsAt), zone))}</time>, for ${e(sayLength(lengthMs))}.</p>
${people.length ? `<p>With ${e(people.map(({ name }) => name).join(', '))}</p>` : ''}<p class="words">${e(description)}</p>
${links.length ? `<h2>Where to watch</h2><ul>${links.join('')}</ul>` : ''}${replayLink(view)}<p><a href="${e(view.calendarUrl)}">Save it in your calendar</a></p></main>`;
  return { head: head.filter(Boolean).join('\n'), body, data: { page: embedded ? 'embed' : 'show', view } };
}

function replayLink({ replay, trailerUrl, state }: HouseView): string {
  if (replay === 'coming') return '<p>The recording will be here in a few minutes.</p>';
  if (replay) return `<p><a href="${e(replay.url)}">Watch the recording</a></p>`;
  return trailerUrl && state === 'coming' ? `<p><a href="${e(trailerUrl)}">Watch the trailer</a></p>` : '';
}

/** Where there is nothing for this visitor: the same for all. */
export function nothingPage(words: string): Parts {
  return {
    head: '<title>Nothing here</title><meta name="robots" content="noindex"/>',
    body: `<main class="page"><h1>Nothing here</h1><p>${e(words)}</p></main>`,
    data: { page: 'nothing' },
  };
}

export interface StationShow {
  title: string;
  url: string;
  startsAt: number;
  zone: string;
  state: HouseView['state'];
  thumbnailUrl: string | null;
  thumbnailAlternative: string;
}

/** The station's own page: what is on, what comes, what was. */
export function stationPage(station: { name: string; url: string }, shows: readonly StationShow[]): Parts {
  const section = (title: string, of: StationShow[]) =>
    of.length
      ? `<section><h2>${title}</h2><ul class="station-shows">${of
          .map(
            ({ title: name, url, startsAt, zone, thumbnailUrl, thumbnailAlternative }) =>
              `<li>${thumbnailUrl ? `<img src="${e(thumbnailUrl)}" alt="${e(thumbnailAlternative)}" loading="lazy" width="320" height="180"/>` : '<span></span>'}<div><a href="${e(url)}">${e(name)}</a><time datetime="${new Date(startsAt).toISOString()}">${e(sayWhen(instant(startsAt), zone))}</time></div></li>`,
          )
          .join('')}</ul></section>`
      : '';
  const on = shows.filter(({ state }) => state === 'onAir' || state === 'paused');
  const coming = shows.filter(({ state }) => state === 'coming');
  const was = shows.filter(({ state }) => state === 'over').reverse();
  const feed = `${station.url}/feed.atom`;
  const none = shows.length ? '' : '<p>Nothing is planned at the moment. Look again soon.</p>';
  return {
    head: [
      `<title>${e(station.name)}: what is on</title>`,
      `<meta name="description" content="${e(`What is on at ${station.name}, what is coming and what was.`)}"/>`,
      `<link rel="canonical" href="${e(station.url)}"/>`,
      `<link rel="alternate" type="application/atom+xml" href="${e(feed)}" title="${e(station.name)}"/>`,
      `<meta property="og:title" content="${e(station.name)}"/><meta property="og:url" content="${e(station.url)}"/><meta property="og:type" content="website"/>`,
    ].join('\n'),
    body: `<main class="page"><h1>${e(station.name)}</h1>${none}${section('On now', on)}${section('Coming', coming)}${section('What was', was.slice(0, 30))}<form class="subscribe" method="post" action="${e(new URL(station.url).pathname)}/subscribe"><label for="email">Hear of new shows by mail</label><span><input id="email" class="form-control" name="email" type="email" autocomplete="email" required maxlength="200"/><button class="btn btn-primary">Tell me</button></span></form><p class="soft"><a href="${e(`${station.url}/calendar.ics`)}">Calendar</a> · <a href="${e(feed)}">Feed</a></p></main>`,
    data: null,
  };
}

/** A page of one sentence, after a link of a mail was followed. `action`: what a button does, for links that only a person may follow. */
export function wordsPage(title: string, words: string, action: { path: string; label: string } | null = null): Parts {
  const form = action ? `<form method="post" action="${e(action.path)}"><button class="btn btn-primary">${e(action.label)}</button></form>` : '';
  return {
    head: `<title>${e(title)}</title><meta name="robots" content="noindex"/>`,
    body: `<main class="page"><h1>${e(title)}</h1><p>${e(words)}</p>${form}</main>`,
    data: null,
  };
}

// The stand-ins' public pages: plain server-written HTML, one modest look per network.
import { readFileSync } from 'node:fs';
import type { Account, EventRow, Network, PostRow } from './entities';
import { NETWORK_LOOKS } from './looks';

const SHARED_CSS = `*{box-sizing:border-box}body{margin:0;line-height:1.5;min-height:100vh}main{max-width:64rem;margin:0 auto;padding:1.5rem 1.25rem 4rem}
header.top{padding:.9rem 1.25rem;display:flex;gap:.75rem;align-items:baseline}header.top b{font-size:1.25rem}header.top span{opacity:.75}
h1{line-height:1.2;margin:.6em 0 .3em}.narrow{max-width:34rem}label{display:block;margin:.9rem 0}input,select{display:block;width:100%;font:inherit;padding:.55rem .7rem;margin-top:.25rem;border:1px solid #777}
button{font:inherit;padding:.55rem 1.3rem;border:0;cursor:pointer}.actions{display:flex;gap:.75rem}.small{font-size:.875rem;opacity:.8}.trouble{border-left:4px solid;padding-left:.75rem;font-weight:600}
.frame{position:relative;aspect-ratio:16/9;overflow:hidden;background:#0d1413 center/cover;display:grid;place-items:center;color:#fff}.frame video{width:100%;height:100%;display:block;background:#000}
.wait{align-self:end;justify-self:start;margin:1rem;background:rgba(8,14,13,.72);padding:1rem 1.75rem;text-align:center}.wait strong{display:block;font-size:2.4rem;font-variant-numeric:tabular-nums;line-height:1.15}
.who{display:flex;gap:.75rem;align-items:center;margin:1rem 0}.mark{width:2.75rem;height:2.75rem;display:grid;place-items:center;font-weight:700;flex:none}.words{white-space:pre-wrap;max-width:44rem}
.said{list-style:none;padding:0;max-width:44rem}.said li{margin:.4rem 0}.said .beneath{margin-left:1.5rem}.say{display:flex;gap:.6rem;flex-wrap:wrap;align-items:end}.say label{margin:0}.shelf{padding:.2rem 0 .2rem .9rem;margin:.9rem 0}.shelf b{font-size:1.05rem}.empty{opacity:.75}textarea{display:block;width:100%;font:inherit}
.facts{display:flex;gap:1.25rem;flex-wrap:wrap;margin:.5rem 0 0;padding:0;list-style:none}table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.5rem .75rem .5rem 0;border-bottom:1px solid #8884;vertical-align:middle}[hidden]{display:none!important}`;

/** Where there is no title, the first line is one. */
export const titleOf = ({ title, text }: EventRow): string => title || text.split('\n')[0]!.slice(0, 80);

export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
}

/** Words with their web addresses to be followed. */
function withLinks(text: string): string {
  return escapeHtml(text).replace(/https?:\/\/[^\s<]+/g, (link) => `<a href="${link}" rel="nofollow">${link}</a>`);
}

export function networkPage(network: Network, title: string, body: string): string {
  const look = NETWORK_LOOKS[network];
  return `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<title>${escapeHtml(title)} · ${look.name}</title><link rel="icon" href="data:,"><style>${SHARED_CSS}${look.css}</style></head>
<body><header class="top"><b>${look.name}</b><span>${look.motto}</span></header><main>${body}</main></body></html>`;
}

export function monogram(account: Account): string {
  return `<span class="mark" style="background:hsl(${account.hue} 35% 32%);color:#fff" aria-hidden="true">${escapeHtml(account.monogram)}</span>`;
}

/** A square portrait for accounts, drawn from two letters and a hue. */
export function portraitSvg(account: Account): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 80 80"><rect width="80" height="80" fill="hsl(${account.hue} 35% 32%)"/>
<path d="M0 62 Q20 48 40 58 T80 52 V80 H0Z" fill="hsl(${account.hue} 35% 22%)"/><circle cx="62" cy="18" r="5" fill="#f1e3bd"/>
<text x="38" y="50" font-family="sans-serif" font-size="30" font-weight="700" fill="#fff" text-anchor="middle">${escapeHtml(account.monogram)}</text></svg>`;
}

export interface WatchFacts {
  event: EventRow;
  account: Account;
  /** Address of this page; state, picture and playlist hang below it. */
  base: string;
  /** Who speaks, of those who have accepted. */
  speakers: readonly { name: string; about: string }[];
  mayWrite: 'everyone' | 'followers' | 'members' | 'nobody';
  /** What lets this visitor in, for the addresses below; empty where anybody may come. */
  query: string;
}

/** The public page of one event: title, text, picture and countdown, then the player, and how many watch. */
export function watchPage({ event, account, base, query, speakers, mayWrite }: WatchFacts): string {
  const look = NETWORK_LOOKS[event.network];
  const picture = event.thumbnailType ? ` style="background-image:url('${base}/picture${query}')"` : '';
  const words = event.thumbnailWords ? ` role="img" aria-label="${escapeHtml(event.thumbnailWords)}"` : '';
  const facts = Object.entries(event.facts).map(([name, value]) => `<li>${escapeHtml(name)}: ${escapeHtml(value)}</li>`);
  return networkPage(
    event.network,
    titleOf(event),
    `<div class="frame" id="frame"${picture}${words}><div class="wait" id="wait"><span id="wait-words">Starts in</span><strong id="countdown">–</strong></div>
      <video id="player" controls muted playsinline hidden></video></div>
    <h1>${escapeHtml(event.title || event.text)}</h1>
    <ul class="facts"><li id="state">${look.states.planned}</li><li><time id="when"></time></li><li id="watching" hidden></li></ul>
    <div class="who">${monogram(account)}<div><b>${escapeHtml(account.name)}</b><br><span class="small"><a href="${look.accountPath}/${account.id}">${account.kind}</a></span></div></div>
    ${event.title ? `<p class="words">${escapeHtml(event.text)}</p>` : ''}<ul class="facts small">${facts.join('')}</ul>
    ${speakers.length ? `<h2>Speakers</h2><ul>${speakers.map(({ name, about }) => `<li><b>${escapeHtml(name)}</b>${about ? `, ${escapeHtml(about)}` : ''}</li>`).join('')}</ul>` : ''}
    ${mayWrite === 'nobody' ? '<p class="empty">Nothing is written beneath this.</p>' : saidPart(mayWrite)}
    <script src="/assets/player.js"></script><script>${WATCH_SCRIPT}
    watch(${JSON.stringify({ base, query, startsAt: event.startsAt, states: look.states })})</script>`,
  );
}

/** What is written beneath an event, and the form to write more. */
function saidPart(mayWrite: WatchFacts['mayWrite']): string {
  const kinds = { everyone: ['newcomer', 'follower'], followers: ['follower', 'newcomer'], members: ['member', 'newcomer'], nobody: [] }[mayWrite];
  return `<h2>Said beneath it</h2><ul class="said" id="said"></ul>
    <form class="say" id="say"><label>Your name<input name="name" maxlength="60" required></label><label>Known here as<select name="standing">${kinds.map((kind) => `<option>${kind}</option>`).join('')}</select></label>
    <label>Message<input name="words" size="40" required></label><button>Write it</button><span id="not-said" class="trouble" hidden></span></form>`;
}

/** Where somebody stands who may not see an event: its title is not told. */
export function closedPage(network: Network, visibility: string): string {
  const who = { invited: 'people who were invited', supporters: 'supporters', members: 'members of the group' }[visibility] ?? 'somebody else';
  return networkPage(network, 'Not for everybody', `<section class="narrow"><h1>This is for ${who}.</h1><p>Use the address that you were sent.</p></section>`);
}

/** Where an event is not shown everywhere: a viewer says where they are, as a network would know it by itself. */
export function countryPage(network: Network, as: string | undefined, country: string | undefined): string {
  const words = country ? 'This is not shown where you are.' : 'This is not shown everywhere.';
  return networkPage(
    network,
    'Not everywhere',
    `<section class="narrow"><h1>${words}</h1><form>${as ? `<input type="hidden" name="as" value="${escapeHtml(as)}">` : ''}
    <label>Your country, in two letters<input name="in" size="4" maxlength="2" pattern="[A-Z]{2}" required value="${escapeHtml(country ?? '')}"></label> <button>Go on</button></form></section>`,
  );
}

/** The public page of an account: what is on, coming and past, of what everybody may see. */
export function accountPage(account: Account, events: EventRow[], posts: PostRow[]): string {
  const look = NETWORK_LOOKS[account.network];
  const part = (title: string, some: EventRow[], none: string) =>
    `<h2>${title}</h2>${some.map((event) => shelf(event)).join('') || `<p class="empty">${none}</p>`}`;
  const shelf = (event: EventRow) => `<div class="shelf"><b><a href="${look.eventPath}/${event.id}">${escapeHtml(titleOf(event))}</a></b><br>
    <span class="small">${look.states[event.state]} · <time data-at="${event.startsAt}"></time></span></div>`;
  const past = events.filter(({ state }) => state === 'over' || state === 'withdrawn').reverse();
  return networkPage(
    account.network,
    account.name,
    `<div class="who">${monogram(account)}<div><h1 style="margin:0">${escapeHtml(account.name)}</h1><span class="small">${account.kind} · ${account.followers} follow</span></div></div>
    ${part(
      'Now',
      events.filter(({ state }) => state === 'public'),
      'Nothing at this moment.',
    )}
    ${part(
      'Coming',
      events.filter(({ state }) => state === 'planned'),
      'Nothing is announced.',
    )}
    ${part('Past', past, 'Nothing yet.')}
    ${posts.length ? `<h2>Said here</h2>${posts.map((post) => `<div class="shelf" id="post-${post.id}"><span class="words">${withLinks(post.text)}</span><br><span class="small"><time data-at="${post.at}"></time></span></div>`).join('')}` : ''}
    <script>for (const time of document.querySelectorAll('time[data-at]')) time.textContent = new Date(Number(time.dataset.at)).toLocaleString('en-GB', { dateStyle: 'full', timeStyle: 'short' });</script>`,
  );
}

/** Runs in the visitor's browser: asks for the state every two seconds and plays once the event is public. */
const WATCH_SCRIPT = `
function watch({ base, query, startsAt, states }) {
  const at = (id) => document.getElementById(id), viewer = Math.random().toString(36).slice(2);
  let ahead = 0, playing = false, recorded = false, state = 'planned', hls = null;
  at('when').textContent = new Date(startsAt).toLocaleString('en-GB', { dateStyle: 'full', timeStyle: 'short' });
  function playFilm({ language }) {
    const video = at('player'); playing = true;
    if (hls) { hls.destroy(); hls = null; }
    video.src = base + '/film.mp4' + query;
    if (language) video.innerHTML = '<track kind="captions" default srclang="' + language.replace(/[^\\w-]/g, '') + '" src="' + base + '/captions.vtt' + query + '">';
    video.hidden = false; at('wait').hidden = true;
  }
  function play() {
    playing = true; const video = at('player'), source = base + '/live.m3u8' + query;
    if (window.Hls && Hls.isSupported()) { if (hls) hls.destroy(); hls = new Hls({ liveSyncDurationCount: 3 }); hls.loadSource(source); hls.attachMedia(video);
      hls.on(Hls.Events.ERROR, (_, trouble) => { if (trouble.fatal && hls) { hls.destroy(); hls = null; playing = false; } }); }
    else video.src = source;
    video.hidden = false; at('wait').hidden = true; video.play().catch(() => {});
  }
  function draw() {
    const left = Math.ceil((startsAt - Date.now() - ahead) / 1000), pad = (n) => String(n).padStart(2, '0');
    if (state !== 'planned') return;
    const days = Math.floor(left / 86400);
    at('wait-words').textContent = left > 0 ? 'Starts in' : 'Starts in a moment';
    at('countdown').textContent = left > 0 ? (days ? days + (days === 1 ? ' day ' : ' days ') : '') + pad(Math.floor(left / 3600) % 24) + ':' + pad(Math.floor(left / 60) % 60) + ':' + pad(left % 60) : '';
  }
  async function ask() {
    try {
      const facts = await (await fetch(base + '/state' + (query || '?') + '&viewer=' + (playing ? viewer : ''))).json();
      state = facts.state; ahead = facts.now - Date.now(); startsAt = facts.startsAt;
      at('state').textContent = states[state];
      at('watching').hidden = state !== 'public'; at('watching').textContent = facts.watching + ' watching';
      if (state === 'public' && facts.playable && !playing) play();
      if (state === 'public' && !playing) { at('wait-words').textContent = 'The picture is on its way'; at('countdown').textContent = ''; }
      if (state === 'over' || state === 'withdrawn') {
        at('countdown').textContent = '';
        at('wait-words').textContent = state === 'over' ? 'This show is over.' : 'This show was cancelled.';
        if (facts.film && recorded !== 'film') { recorded = 'film'; playFilm(facts.film); }
        else if (facts.playable && !recorded) { recorded = true; play(); at('wait').hidden = false; }
        if (!facts.playable) { at('wait').hidden = false; at('player').hidden = true; at('player').pause(); }
      }
    } catch { /* asked again in a moment */ }
  }
  const list = at('said'), form = at('say');
  async function read() {
    if (!list) return;
    try {
      const all = await (await fetch(base + '/said' + query)).json();
      list.replaceChildren(...all.map(({ id, writer, own, text, answers }) => {
        const item = document.createElement('li'), who = document.createElement('b');
        who.textContent = writer + (own ? ' (host)' : ''); item.id = 'said-' + id; item.className = answers ? 'beneath' : '';
        item.append(who, ' ' + text); return item;
      }));
    } catch { /* asked again in a moment */ }
  }
  if (form) form.addEventListener('submit', async (event) => {
    event.preventDefault();
    const answer = await fetch(base + '/said' + query, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(Object.fromEntries(new FormData(form))) });
    at('not-said').hidden = answer.ok;
    if (answer.ok) form.elements.words.value = ''; else { const why = await answer.json(); at('not-said').textContent = why.error?.text || why.because || why.detail || why.say || 'Not written.'; }
    read();
  });
  setInterval(read, 2000); read();
  setInterval(draw, 250); setInterval(ask, 2000); ask(); draw();
}`;

/** The player library that the pages load, read once. */
export const PLAYER_SCRIPT = readFileSync(require.resolve('hls.js/dist/hls.light.min.js'), 'utf8');

// What the operator's page looks like: one network at a time, one small form for each kind of trouble.
import { now } from './clock';
import { NETWORKS, type Account, type EventRow, type LimitChange, type LimitName, type Limits, type Network } from './entities';
import { FAULT_WORDS, FAULTS, type Fault } from './faults';
import { unitOf } from './limits';
import { NETWORK_LOOKS } from './looks';
import { escapeHtml, titleOf } from './pages';
import { DAY_MS } from './standing';

interface Shared {
  account: Account;
  answer: string;
}

interface OperatorFacts {
  /** By event, whom it was shared with. */
  shares: ReadonlyMap<string, readonly Shared[]>;
  network: Network;
  fault: Fault;
  limits: { names: LimitName[]; inForce: Limits; changes: LimitChange[] };
  accounts: Account[];
  events: EventRow[];
}

const LIMIT_WORDS: Record<LimitName, string> = {
  title: 'Title, characters',
  text: 'Text, characters',
  ahead: 'How far ahead, days',
  lead: 'Least lead, minutes',
  longest: 'Longest show, hours',
};

const CSS = `*{box-sizing:border-box}body{margin:0;font:16px/1.5 "DejaVu Sans",sans-serif;background:#f2f2ee;color:#22262a}main{max-width:60rem;margin:0 auto;padding:1.25rem}
nav{display:flex;gap:1.25rem;border-bottom:1px solid #bbb;padding-bottom:.6rem;flex-wrap:wrap}nav a{color:inherit}nav a[aria-current]{font-weight:700;text-decoration:none}
h1{font-size:1.4rem;margin:.2rem 0 1rem}h2{font-size:1.05rem;margin:2rem 0 .5rem}form{display:flex;gap:.6rem;align-items:end;flex-wrap:wrap;margin:.4rem 0}
label{font-size:.85rem}input,select{display:block;font:inherit;padding:.35rem .5rem;border:1px solid #777;background:#fff;max-width:24rem}input[type=number]{width:7rem}
button{font:inherit;padding:.35rem .9rem;border:1px solid #22262a;background:#fff;cursor:pointer}.row{border-top:1px solid #ccc;padding:.4rem 0}.small{font-size:.85rem;color:#555}`;

const hidden = (fields: Record<string, string>) =>
  Object.entries(fields)
    .map(([name, value]) => `<input type="hidden" name="${name}" value="${escapeHtml(value)}">`)
    .join('');
const form = (action: string, fields: Record<string, string>, inner: string) =>
  `<form method="post" action="/operator/${action}">${hidden(fields)}${inner}</form>`;
const choice = (name: string, label: string, options: readonly (readonly [string, string])[], chosen: string) =>
  `<label>${label}<select name="${name}">${options.map(([value, words]) => `<option value="${value}"${value === chosen ? ' selected' : ''}>${words}</option>`).join('')}</select></label>`;
const number = (name: string, label: string, value: number | '') => `<label>${label}<input type="number" name="${name}" value="${value}"></label>`;
const YES_NO = [
  ['yes', 'yes'],
  ['no', 'no'],
] as const;

export function operatorPage({ network, fault, limits, accounts, events, shares }: OperatorFacts): string {
  const tabs = NETWORKS.map(
    (each) => `<a href="/operator?network=${each}"${each === network ? ' aria-current="page"' : ''}>${NETWORK_LOOKS[each].name}</a>`,
  ).join('');
  const faults = FAULTS.map((each) => [each, FAULT_WORDS[each]] as const);
  const names = limits.names.map((name) => [name, LIMIT_WORDS[name]] as const);
  const changes = limits.changes.map(
    ({ limit, value, from, announced }) =>
      `<li>${LIMIT_WORDS[limit]}: ${value / unitOf(limit)} from ${new Date(from).toISOString().slice(0, 16).replace('T', ' ')} UTC${announced ? ', announced' : ', not announced'}</li>`,
  );
  return `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<title>Operator · ${NETWORK_LOOKS[network].name}</title><link rel="icon" href="data:,"><style>${CSS}</style></head><body><main>
<h1>Trouble on demand</h1><nav aria-label="Networks">${tabs}</nav>
<h2>How ${NETWORK_LOOKS[network].name} behaves</h2>
${form('faults', { network }, `${choice('fault', 'It…', faults, fault)}<button>Make it so</button>`)}
${form('drop', { network }, '<button>Hang up on every encoder</button>')}
<h2>Access of other applications</h2>
${form('access', { network, becomes: 'stale' }, '<button>Let the tokens run out</button>')}
${form('access', { network, becomes: 'expired' }, '<button>Let all access run out</button>')}
${form('access', { network, becomes: 'withdrawn' }, '<button>Withdraw all access</button>')}
<h2>Limits</h2><p class="small">In force: ${limits.names.map((name) => `${LIMIT_WORDS[name].toLowerCase()} ${limits.inForce[name] / unitOf(name)}`).join(' · ')}</p>
${changes.length ? `<ul class="small">${changes.join('')}</ul>` : ''}
${form('limits', { network }, `${choice('limit', 'Limit', names, '')}${number('value', 'Becomes', '')}${number('inDays', 'In days', 7)}${choice('announced', 'Announced', YES_NO, 'yes')}<button>Change it</button>`)}
${limits.changes.length ? form('limits/as-at-first', { network }, '<button>As at first</button>') : ''}
<h2>Accounts</h2>${accounts.map((account) => accountForm(account)).join('')}
<h2>Events</h2>${events.map((event) => eventForm(event) + (shares.get(event.id) ?? []).map((share) => shareForm(event, share)).join('')).join('') || '<p class="small">None is coming or public.</p>'}
</main></body></html>`;
}

function accountForm(account: Account): string {
  const days = (at: number) => Math.floor((now() - at) / DAY_MS);
  const fields: Record<Network, string> = {
    reelmoor: `${choice('phoneVerified', 'Phone verified', YES_NO, account.phoneVerified ? 'yes' : 'no')}<label>Asked, days ago<input name="askedDaysAgo" value="${account.askedAt === null ? 'never' : days(account.askedAt)}"></label>`,
    townfold:
      account.kind === 'group'
        ? choice('groupAllows', 'Group allows gatherings', YES_NO, account.groupAllows ? 'yes' : 'no')
        : choice('role', 'Role of the sign-in', [['owner', 'owner'] as const, ['editor', 'editor'] as const, ['reader', 'reader'] as const], account.role),
    guildhand: `${number('openedDaysAgo', 'Opened, days ago', days(account.openedAt))}${number('connections', 'Connections', account.connections)}`,
    pipwire: number('followers', 'Followers', account.followers),
  };
  return `<div class="row">${form('accounts', { account: account.id }, `<b style="min-width:16rem">${escapeHtml(account.name)}<br><span class="small">${account.kind}</span></b>${fields[account.network]}<button>Set</button>`)}</div>`;
}

function shareForm({ network, id }: EventRow, { account, answer }: Shared): string {
  const which = { network, event: id, place: account.id };
  const words = `<span class="small">${escapeHtml(account.name)}: ${answer}</span>`;
  return `<div class="row">${form('shares', which, `${words}<button name="answer" value="accepted">It shares this</button><button name="answer" value="declined">It does not</button>`)}</div>`;
}

function eventForm(event: EventRow): string {
  const which = { network: event.network, event: event.id };
  const title = escapeHtml(titleOf(event));
  const adverts =
    event.network === 'reelmoor'
      ? '<label>Adverts<select name="adverts"><option value="">as they are</option><option>yes</option><option>no</option></select></label>'
      : '';
  return `<div class="row">${form('events', which, `<label>Title<input name="title" value="${title}"></label>${number('minutesLater', 'Minutes later', 0)}${adverts}<button>Edit it there</button><button name="what" value="end">End it</button><button name="what" value="forget">Forget it</button>`)}${form('messages', which, `<label>Somebody writes<input name="words" value="Good evening"></label>${number('count', 'So many times', 1)}<button>Have it written</button>`)}</div>`;
}

// One modest look per network, so that a page is known for whose it is at a glance.
import type { EventRow, Network } from './entities';

interface NetworkLook {
  name: string;
  motto: string;
  /** Where its events and accounts are shown. */
  eventPath: string;
  accountPath: string;
  /** What it calls the states of an event. */
  states: Record<EventRow['state'], string>;
  css: string;
}

export const NETWORK_LOOKS: Record<Network, NetworkLook> = {
  reelmoor: {
    name: 'Reelmoor',
    motto: 'a library of moving pictures',
    eventPath: '/reelmoor/watch',
    accountPath: '/reelmoor/shelf',
    states: { planned: 'Coming', public: 'Live now', over: 'Over', withdrawn: 'Cancelled' },
    css: `body{font-family:Georgia,"DejaVu Serif",serif;background:#f4f1ea;color:#23201b}header.top{background:#2f3b57;color:#f4f1ea}
    button{background:#2f3b57;color:#fff}button.quiet{background:none;color:#2f3b57;outline:1px solid #2f3b57}.mark{border-radius:2px}.trouble{color:#8a2b20}a{color:#2f3b57}
    .shelf{border-left:3px solid #2f3b57}`,
  },
  townfold: {
    name: 'Townfold',
    motto: 'what goes on around the corner',
    eventPath: '/townfold/gathering',
    accountPath: '/townfold/place',
    states: { planned: 'Coming', public: 'Live now', over: 'Over', withdrawn: 'Called off' },
    css: `body{font-family:"DejaVu Sans",Verdana,sans-serif;background:#fff;color:#1d2a22}header.top{border-bottom:6px double #3f6b4f;color:#2c5240}
    main{border-left:1px dashed #b9c9bd;border-right:1px dashed #b9c9bd}button{background:#3f6b4f;color:#fff;border-radius:2rem}button.quiet{background:#e6eee8;color:#1d2a22}
    .frame{border-radius:1.1rem}.mark{border-radius:50%}.trouble{color:#8a2b20}a{color:#2c5240}input,select{border-radius:.5rem}.shelf{border-left:3px dotted #3f6b4f}`,
  },
  guildhand: {
    name: 'Guildhand',
    motto: 'people at their work',
    eventPath: '/guildhand/talk',
    accountPath: '/guildhand/bench',
    states: { planned: 'Announced', public: 'Live now', over: 'Closed', withdrawn: 'Cancelled' },
    css: `body{font-family:"DejaVu Sans Mono",ui-monospace,monospace;font-size:.9375rem;background:#eef0ee;color:#26282b}header.top{background:#fff;border-left:14px solid #7b4a2e;color:#5d3520}
    main{background:#fff;margin-top:1.25rem}h1{font-family:"DejaVu Sans",sans-serif}button{background:#7b4a2e;color:#fff}button.quiet{background:#efe6df;color:#5d3520}
    .mark{border-radius:0;transform:rotate(-4deg)}.trouble{color:#8a2b20}a{color:#6b3d22}.shelf{border-left:3px solid #7b4a2e}`,
  },
  pipwire: {
    name: 'Pipwire',
    motto: 'said in a breath',
    eventPath: '/pipwire/cast',
    accountPath: '/pipwire/by',
    states: { planned: 'Waiting for its picture', public: 'Live now', over: 'Gone', withdrawn: 'Removed' },
    css: `body{font-family:"DejaVu Sans",sans-serif;background:#fdf7fb;color:#2a1f2b}header.top{color:#6d2a5f}main{max-width:40rem}h1{font-size:1.25rem;font-weight:400;line-height:1.45;white-space:pre-wrap}
    button{background:#6d2a5f;color:#fff;border-radius:.35rem .35rem .35rem 1.1rem}button.quiet{background:#f0e2ec;color:#6d2a5f}.frame{border-radius:.35rem .35rem .35rem 1.6rem}
    .mark{border-radius:.35rem .35rem .35rem 1.1rem}.trouble{color:#8a2b20}a{color:#6d2a5f}.shelf{border-left:3px solid #d9b7cf}`,
  },
};

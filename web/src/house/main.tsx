// The public pages take over from the HTML that the server sent: the countdown, the player, the forms. Pages
// without anything that moves are left as they are.
import '@fontsource-variable/bricolage-grotesque/wght.css';
import '@fontsource/atkinson-hyperlegible-next/400.css';
import '@fontsource/atkinson-hyperlegible-next/600.css';
import type { HouseView } from '@lantern/contract';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import './pages.scss';
import { CodeForm } from './CodeForm';
import { HousePage } from './HouseView';

interface PageData {
  page: 'show' | 'embed' | 'nothing';
  view?: HouseView;
}

const written = document.getElementById('data')?.textContent;
const data = written ? (JSON.parse(written) as PageData) : null;
const slug = location.pathname.split('/').at(-1) ?? '';
if (data) {
  const root = document.getElementById('root')!;
  createRoot(root).render(
    <StrictMode>{data.view ? <HousePage slug={slug} first={data.view} embedded={data.page === 'embed'} /> : <CodeForm slug={slug} />}</StrictMode>,
  );
}

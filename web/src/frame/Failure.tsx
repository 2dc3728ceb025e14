import { Link } from 'react-router';
import { PageTitle } from '../app/PageTitle';

/** Shown when a page could not be drawn at all. */
export function Failure() {
  return (
    <main className="page pt-6 narrow">
      <PageTitle of="This page has stumbled" />
      <h1>This page has stumbled</h1>
      <p>Nothing that you saved is lost. Reload it, or go back to the almanac.</p>
      <Link to="/">To the almanac</Link>
    </main>
  );
}

export function NotHere() {
  return (
    <main className="page pt-6 narrow">
      <PageTitle of="There is nothing at this address" />
      <h1>There is nothing at this address</h1>
      <p>The link may be cut short, or what it led to was removed.</p>
      <Link to="/">To the almanac</Link>
    </main>
  );
}

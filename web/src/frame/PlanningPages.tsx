// The frame of the planning pages, and the gate before everything that needs a signed-in person.
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, Navigate, NavLink, Outlet, ScrollRestoration, useLocation, useNavigate, useNavigationType } from 'react-router';
import { LanternMark } from '../look/LanternMark';
import { useMe } from '../people/me';
import { SignInAgain } from '../people/SignInAgain';
import { useStationChanges } from '../app/changes';
import { FindAll } from './FindAll';
import { sendWhatIsThere } from '../late/late-pieces';
import { StillHere } from '../late/StillHere';
import { OnAirBar } from './OnAirBar';
import { Opening } from './Opening';
import { fetchTheRest } from './pages';
import { RemovedNotice } from '../app/removed';
import { noteSignedIn } from '../app/session';
import { Notice } from '../look/Notice';
import { server, ServerError, wordsOf } from '../app/server';

/** The first page comes first. */
const REST_AFTER_MS = 3_000;

export function SignedIn() {
  const me = useMe();
  const { pathname, search, hash } = useLocation();
  useEffect(() => {
    if (me.data) noteSignedIn(true);
  }, [me.data]);
  if (me.isPending) return <Opening />;
  if (!me.data && me.error instanceof ServerError && me.error.status === 401)
    return <Navigate to="/sign-in" state={{ next: `${pathname}${search}${hash}` }} replace />;
  if (!me.data && me.error) {
    return (
      <main className="page pt-6 narrow">
        <Notice kind="refusal">{wordsOf(me.error)}</Notice>
        <Button variant="outline-primary" onClick={() => void me.refetch()}>
          Try again
        </Button>
      </main>
    );
  }
  return (
    <>
      <Outlet />
      <SignInAgain />
    </>
  );
}

export function PlanningPages() {
  const me = useMe();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [finding, setFinding] = useState(false);
  useKeys(() => setFinding(true));
  useEffect(() => {
    // What cannot be had now is asked for when somebody goes there.
    const later = setTimeout(() => {
      void fetchTheRest().catch(() => undefined);
      void sendWhatIsThere().catch(() => undefined);
    }, REST_AFTER_MS);
    return () => clearTimeout(later);
  }, []);
  useStationChanges();
  const signOut = async () => {
    await server.delete('/api/session');
    noteSignedIn(false);
    queries.clear();
    await navigate('/sign-in');
  };
  const main = useFocusOnArrival();
  return (
    <div className="page">
      <a className="skip-link" href="#main">
        To the content
      </a>
      <header className="masthead">
        <Link to="/" className="sign">
          <LanternMark />
          {me.data?.station.name}
        </Link>
        <nav aria-label="Main">
          <NavLink to="/" end>
            Almanac
          </NavLink>
          <NavLink to="/channels">Channels</NavLink>
          <NavLink to="/artwork">Artwork</NavLink>
          <NavLink to="/looks">Looks</NavLink>
          <NavLink to="/scenes">Scenes</NavLink>
          <NavLink to="/contacts">Contacts</NavLink>
          <NavLink to="/team">Team</NavLink>
          <NavLink to="/station">Station</NavLink>
        </nav>
        <span className="ms-auto soft small-words d-flex flex-wrap align-items-baseline gap-3">
          <Button variant="quiet" size="sm" onClick={() => setFinding(true)}>
            Find <kbd className="key">/</kbd>
          </Button>
          <Link to="/you" className="quiet-link">
            {me.data?.name}
          </Link>
          <Button variant="quiet" size="sm" onClick={() => void signOut()}>
            Sign out
          </Button>
        </span>
      </header>
      {/* Another page begins at its top, where what has just happened is told. */}
      <ScrollRestoration />
      <OnAirBar />
      <RemovedNotice />
      <StillHere />
      <main id="main" ref={main} tabIndex={-1} className="page-body">
        <Outlet />
      </main>
      {finding && <FindAll onClose={() => setFinding(false)} />}
    </div>
  );
}

/** Whoever comes to another page begins at its content; what the page itself has taken the focus for, keeps it. */
function useFocusOnArrival() {
  const main = useRef<HTMLElement>(null);
  const { pathname } = useLocation();
  // From the stage one comes to the whole frame anew; whoever opens or reloads a page begins where browsers begin.
  const came = useNavigationType() !== 'POP';
  const before = useRef(came ? '' : pathname);
  useEffect(() => {
    if (before.current === pathname) return;
    before.current = pathname;
    if (!main.current?.contains(document.activeElement)) main.current?.focus({ preventScroll: true });
  }, [pathname]);
  return main;
}

/** N drafts a new show from any planning page and / finds, unless somebody is typing or answering a question. */
function useKeys(find: () => void) {
  const navigate = useNavigate();
  const latest = useRef(find);
  useEffect(() => {
    latest.current = find;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [contenteditable]');
      if (typing || event.ctrlKey || event.metaKey || event.altKey || document.querySelector('[role=dialog]')) return;
      if (event.key === 'n') void navigate('/shows/new');
      if (event.key !== '/') return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [navigate]);
}

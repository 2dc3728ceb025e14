import { createBrowserRouter } from 'react-router';
import { AlmanacView } from '../almanac/AlmanacView';
import { SetUpView } from '../people/SetUpView';
import { SignInView } from '../people/SignInView';
import { Failure, NotHere } from './Failure';
import { Opening } from './Opening';
import { PAGES } from './pages';
import { PlanningPages, SignedIn } from './PlanningPages';

export const router = createBrowserRouter([
  { path: '/sign-in', element: <SignInView />, errorElement: <Failure /> },
  { path: '/set-up', element: <SetUpView />, errorElement: <Failure /> },
  { path: '/join', lazy: PAGES.JoinView, errorElement: <Failure />, hydrateFallbackElement: <Opening /> },
  { path: '/door', lazy: PAGES.DoorView, errorElement: <Failure />, hydrateFallbackElement: <Opening /> },
  { path: '/forgotten', lazy: PAGES.ForgottenView, errorElement: <Failure />, hydrateFallbackElement: <Opening /> },
  { path: '/new-password', lazy: PAGES.NewPasswordView, errorElement: <Failure />, hydrateFallbackElement: <Opening /> },
  {
    element: <SignedIn />,
    errorElement: <Failure />,
    hydrateFallbackElement: <Opening />,
    children: [
      { path: '/shows/:id/stage', lazy: PAGES.StageView },
      { path: '/shows/:id/arrives', lazy: PAGES.ArrivesView },
      {
        element: <PlanningPages />,
        children: [
          { path: '/', element: <AlmanacView /> },
          { path: '/shows/new', lazy: PAGES.NewShowView },
          { path: '/shows/:id', lazy: PAGES.ShowSheetView },
          { path: '/shows/:id/report', lazy: PAGES.ReportView },
          { path: '/shows/:id/cut', lazy: PAGES.CutPage },
          { path: '/shows/:id/notes', lazy: PAGES.LiveNotesPage },
          { path: '/shows/:id/picture', lazy: PAGES.ComposerView },
          { path: '/artwork', lazy: PAGES.LibraryView },
          { path: '/looks', lazy: PAGES.LooksView },
          { path: '/looks/:id', lazy: PAGES.LooksView },
          { path: '/shows/:id/scenes', lazy: PAGES.ScenesOfShowView },
          { path: '/shows/:id/scenes/:scene', lazy: PAGES.ScenesOfShowView },
          { path: '/scenes', lazy: PAGES.ScenesView },
          { path: '/scenes/:id', lazy: PAGES.ScenesView },
          { path: '/contacts', lazy: PAGES.ContactsView },
          { path: '/mail', lazy: PAGES.OutboxPage },
          { path: '/you', lazy: PAGES.YouView },
          { path: '/team', lazy: PAGES.TeamView },
          { path: '/station', lazy: PAGES.StationPage },
          { path: '/channels', lazy: PAGES.ChannelsView },
          { path: '/channels/link/:linkId', lazy: PAGES.ChooseIdentityView },
          { path: '/channels/record', lazy: PAGES.RecordView },
          { path: '/channels/outside-lines', lazy: PAGES.OutsideLinesView },
          {
            path: '/channels/:id',
            lazy: PAGES.ChannelPage,
            children: [
              { index: true, lazy: PAGES.StandingView },
              { path: 'lines', lazy: PAGES.LinesView },
              { path: 'rules', lazy: PAGES.RulesView },
              { path: 'defaults', lazy: PAGES.DefaultsView },
            ],
          },
        ],
      },
    ],
  },
  { path: '*', element: <NotHere /> },
]);

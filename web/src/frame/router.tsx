import { createBrowserRouter } from 'react-router';
import { AlmanacView } from '../almanac/AlmanacView';
import { ChannelPage } from '../channels/ChannelPage';
import { ChannelsView } from '../channels/ChannelsView';
import { ChooseIdentityView } from '../channels/ChooseIdentityView';
import { DefaultsView } from '../channels/DefaultsView';
import { RecordView } from '../channels/RecordView';
import { RulesView } from '../channels/RulesView';
import { StandingView } from '../channels/StandingView';
import { ContactsView } from '../contacts/ContactsView';
import { OutboxPage } from '../contacts/OutboxPage';
import { LinesView } from '../lines/LinesView';
import { SetUpView } from '../people/SetUpView';
import { SignInView } from '../people/SignInView';
import { YouView } from '../people/YouView';
import { ReportView } from '../report/ReportView';
import { NewShowView } from '../shows/NewShowView';
import { ShowSheetView } from '../shows/ShowSheetView';
import { StationPage } from '../station/StationView';
import { Failure, NotHere } from './Failure';
import { PlanningPages, SignedIn } from './PlanningPages';

export const router = createBrowserRouter([
  { path: '/sign-in', element: <SignInView />, errorElement: <Failure /> },
  { path: '/set-up', element: <SetUpView />, errorElement: <Failure /> },
  {
    element: <SignedIn />,
    errorElement: <Failure />,
    children: [
      { path: '/shows/:id/stage', lazy: async () => ({ Component: (await import('../stage/StageView')).StageView }) },
      {
        element: <PlanningPages />,
        children: [
          { path: '/', element: <AlmanacView /> },
          { path: '/shows/new', element: <NewShowView /> },
          { path: '/shows/:id', element: <ShowSheetView /> },
          { path: '/shows/:id/report', element: <ReportView /> },
          { path: '/shows/:id/picture', lazy: async () => ({ Component: (await import('../artwork/ComposerView')).ComposerView }) },
          { path: '/artwork', lazy: async () => ({ Component: (await import('../artwork/LibraryView')).LibraryView }) },
          { path: '/contacts', element: <ContactsView /> },
          { path: '/mail', element: <OutboxPage /> },
          { path: '/you', element: <YouView /> },
          { path: '/station', element: <StationPage /> },
          { path: '/channels', element: <ChannelsView /> },
          { path: '/channels/link/:linkId', element: <ChooseIdentityView /> },
          { path: '/channels/record', element: <RecordView /> },
          {
            path: '/channels/:id',
            element: <ChannelPage />,
            children: [
              { index: true, element: <StandingView /> },
              { path: 'lines', element: <LinesView /> },
              { path: 'rules', element: <RulesView /> },
              { path: 'defaults', element: <DefaultsView /> },
            ],
          },
        ],
      },
    ],
  },
  { path: '*', element: <NotHere /> },
]);

// The pages whose code is fetched when somebody goes there, so that the first page need not wait for all others.
import type { ComponentType } from 'react';

function page<Name extends string>(fetch: () => Promise<Record<Name, ComponentType>>, name: Name) {
  return async () => ({ Component: (await fetch())[name] });
}

export const PAGES = {
  StageView: page(() => import('../stage/StageView'), 'StageView'),
  ArrivesView: page(() => import('../stage/ArrivesView'), 'ArrivesView'),
  NewShowView: page(() => import('../shows/NewShowView'), 'NewShowView'),
  ShowSheetView: page(() => import('../shows/ShowSheetView'), 'ShowSheetView'),
  ReportView: page(() => import('../report/ReportView'), 'ReportView'),
  CutPage: page(() => import('../cutting/CutPage'), 'CutPage'),
  LiveNotesPage: page(() => import('../notes/LiveNotesPage'), 'LiveNotesPage'),
  ComposerView: page(() => import('../artwork/ComposerView'), 'ComposerView'),
  LooksView: page(() => import('../looks/LooksView'), 'LooksView'),
  ScenesOfShowView: page(() => import('../scenes/ScenesOfShowView'), 'ScenesOfShowView'),
  ScenesView: page(() => import('../scenes/ScenesView'), 'ScenesView'),
  LibraryView: page(() => import('../artwork/LibraryView'), 'LibraryView'),
  ContactsView: page(() => import('../contacts/ContactsView'), 'ContactsView'),
  OutboxPage: page(() => import('../contacts/OutboxPage'), 'OutboxPage'),
  TeamView: page(() => import('../people/TeamView'), 'TeamView'),
  JoinView: page(() => import('../people/JoinView'), 'JoinView'),
  DoorView: page(() => import('../guests/DoorView'), 'DoorView'),
  ForgottenView: page(() => import('../people/ForgottenView'), 'ForgottenView'),
  NewPasswordView: page(() => import('../people/ForgottenView'), 'NewPasswordView'),
  YouView: page(() => import('../people/YouView'), 'YouView'),
  StationPage: page(() => import('../station/StationView'), 'StationPage'),
  ChannelsView: page(() => import('../channels/ChannelsView'), 'ChannelsView'),
  OutsideLinesView: page(() => import('../outside/OutsideLinesView'), 'OutsideLinesView'),
  ChooseIdentityView: page(() => import('../channels/ChooseIdentityView'), 'ChooseIdentityView'),
  RecordView: page(() => import('../channels/RecordView'), 'RecordView'),
  ChannelPage: page(() => import('../channels/ChannelPage'), 'ChannelPage'),
  StandingView: page(() => import('../channels/StandingView'), 'StandingView'),
  LinesView: page(() => import('../lines/LinesView'), 'LinesView'),
  RulesView: page(() => import('../channels/RulesView'), 'RulesView'),
  DefaultsView: page(() => import('../channels/DefaultsView'), 'DefaultsView'),
};

/** Fetches what is still missing, one page after the other: later on, a line that is gone keeps nobody from going elsewhere. */
export async function fetchTheRest(): Promise<void> {
  for (const fetch of Object.values(PAGES)) await fetch();
}

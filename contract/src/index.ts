// Everything that crosses the wire between the browser and the server.
import 'reflect-metadata'; // the rules on nested objects need it
export * from './errors';
export * from './people/people';
export * from './channels/channels';
export * from './lines/lines';
export * from './lines/outside';
export * from './rules/times';
export * from './shows/pictures';
export * from './shows/sheet';
export * from './shows/states';
export * from './shows/choices';
export * from './shows/announcing';
export * from './shows/milestones';
export * from './shows/views';
export * from './shows/on-channels';
export * from './shows/lists';
export * from './air/air';
export * from './report/report';
export * from './house/house';
export * from './jobs/jobs';
export * from './series/series';
export * from './station/station';
export * from './calendar/calendar';
export * from './artwork/artwork';
export * from './clips/clips';
export * from './contacts/contacts';
export * from './changes/changes';

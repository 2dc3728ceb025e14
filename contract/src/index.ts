// Everything that crosses the wire between the browser and the server.
export * from './errors';
export * from './people/people';
export * from './channels/channels';
export * from './shows/shows';
export * from './air/air';
export * from './report/report';
export * from './house/house';

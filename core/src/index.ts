// The computation of Noble Lantern: pure, without clock, randomness or input and output.
export * from './time/instant';
export * from './time/zones';
export * from './findings';
export * from './words';
export * from './channels/rules';
export * from './shows/check';
export * from './air/lamp';
export * from './air/backoff';
export * from './air/scene-on-air';
export * from './flv/tags';
export * from './flv/programme';
export * from './scenes/layout';
export * from './sound/level';
export * from './report/figures';

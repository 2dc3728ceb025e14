// All that the stand-in networks publish. They may import nothing else of ours.
import 'reflect-metadata'; // the rules on nested objects need it
export * from './reelmoor';
export * from './townfold';
export * from './guildhand';
export * from './pipwire';
export * from './oauth';

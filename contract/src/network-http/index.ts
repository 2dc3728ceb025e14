// All that the stand-in networks publish. They may import nothing else of ours.
export * from './reelmoor';
export * from './townfold';
export * from './oauth';

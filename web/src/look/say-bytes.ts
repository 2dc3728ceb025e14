/** A size, as people read it. */
export const sayBytes = (bytes: number): string => (bytes < 1e9 ? `${Math.max(1, Math.round(bytes / 1e6))} MB` : `${(bytes / 1e9).toFixed(1)} GB`);

// What a stage made while its line was gone, sent later.

/** Where a request begins, and how much is there, in bytes (“Resumable Uploads for HTTP”, IETF draft). */
export const UPLOAD_OFFSET = 'upload-offset';
/** `?1`: nothing more will come. */
export const UPLOAD_COMPLETE = 'upload-complete';
/** The most of one request. */
export const LATE_CHUNK_BYTES = 1_000_000;

/** Where the late pieces of a stretch are asked about (HEAD) and sent (PATCH). */
export const latePath = (showId: string, stretch: number): string => `/api/shows/${showId}/late/${stretch}`;

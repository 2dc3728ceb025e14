// Whether this browser can run a stage.

export const MIME_TYPE = 'video/webm;codecs=h264,opus';

/** Whether this browser can draw and send a programme. */
export function canRunStage(): boolean {
  return (
    typeof MediaStreamTrackProcessor !== 'undefined' &&
    typeof MediaStreamTrackGenerator !== 'undefined' &&
    typeof MediaRecorder !== 'undefined' &&
    MediaRecorder.isTypeSupported(MIME_TYPE)
  );
}

export const CANNOT_RUN_STAGE =
  'This browser cannot run a stage: it cannot draw and encode the programme. Use a current Chromium, or a browser made from it, on a desk computer. Planning works here.';

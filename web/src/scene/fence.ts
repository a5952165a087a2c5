/** Asked so often, in milliseconds, whether a frame is done; given up after so many times. */
const EVERY = 4;
const MOST = 250;

/** Tells when what was asked of the graphics so far is done, not just handed over. */
export function whenDone(gl: WebGL2RenderingContext, tell: () => void): void {
  const sync = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
  if (sync === null) return;
  gl.flush();
  let asked = 0;
  const ask = () => {
    const state = gl.clientWaitSync(sync, 0, 0);
    if (state === gl.TIMEOUT_EXPIRED && asked++ < MOST) {
      setTimeout(ask, EVERY);
      return;
    }
    gl.deleteSync(sync);
    if (state !== gl.WAIT_FAILED) tell();
  };
  setTimeout(ask, 0);
}

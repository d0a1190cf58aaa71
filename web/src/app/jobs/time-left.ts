/**
 * "about 6 s left" for work of which a share is done after so many milliseconds. Null while it is too soon to say, or
 * where all that can be counted is done and something is still to come.
 */
export function timeLeft(done: number, elapsedMs: number): string | null {
  if (done < 0.05 || done >= 1 || elapsedMs < 600) return null;
  const seconds = (elapsedMs / 1000) * (1 / done - 1);
  if (seconds < 1) return 'nearly done';
  return seconds < 90 ? `about ${Math.ceil(seconds)} s left` : `about ${Math.ceil(seconds / 60)} min left`;
}

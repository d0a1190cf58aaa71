import { queueWords } from '../words/queue';
/**
 * "about 6 s left" for work of which a share is done after so many milliseconds. Null while it is too soon to say, or
 * where all that can be counted is done and something is still to come.
 */
export function timeLeft(done: number, elapsedMs: number): string | null {
  if (done < 0.05 || done >= 1 || elapsedMs < 600) return null;
  const ms = elapsedMs * (1 / done - 1);
  return ms < 1000 ? queueWords.nearlyDone : queueWords.aboutLeft(roughly(ms));
}

/** "6 s", "3 min": rounded up, for what is not known better. */
export function roughly(ms: number): string {
  const seconds = ms / 1000;
  return seconds < 90 ? `${Math.ceil(seconds)} s` : `${Math.ceil(seconds / 60)} min`;
}

/** Raw pointer events come up to a thousand times a second: no more of them than this are worth an answer. */
const LEAST_GAP_MS = 5;

/**
 * Sifts the moves of one drag. `pointerrawupdate` comes as soon as the hand moves, `pointermove` only with the next
 * frame: answering the first puts the picture into that same frame. The second repeats it, unless it was passed over.
 */
export class Moves {
  private last = { x: NaN, y: NaN, at: -Infinity };

  /** True for a move that says something new. While the answer to the last one is on its way, raw ones can wait. */
  isNew(event: PointerEvent, isAnswering = false): boolean {
    const { x, y, at } = this.last;
    if (event.clientX === x && event.clientY === y) return false;
    const isRaw = event.type === 'pointerrawupdate';
    if (isRaw && (isAnswering || event.timeStamp - at < LEAST_GAP_MS)) return false;
    this.last = { x: event.clientX, y: event.clientY, at: event.timeStamp };
    return true;
  }
}

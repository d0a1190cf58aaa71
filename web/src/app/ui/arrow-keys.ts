/** Where an arrow key points on the screen, (1, 0) to the right and (0, 1) down; null for another key. */
export function arrowOf(event: KeyboardEvent): readonly [number, number] | null {
  switch (event.key) {
    case 'ArrowUp':
      return [0, -1];
    case 'ArrowDown':
      return [0, 1];
    case 'ArrowLeft':
      return [-1, 0];
    case 'ArrowRight':
      return [1, 0];
    default:
      return null;
  }
}

/** Shift takes ten steps at once, Alt a tenth of one. */
export function stepMultiplier(event: { shiftKey: boolean; altKey: boolean }): number {
  return event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
}

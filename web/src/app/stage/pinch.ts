import type { HeldDrag } from '../ui/drag';
import type { Viewport } from '../workspace/viewport';

/** A second finger is ignored when it comes later than this, or after the first has moved this far. */
const TOGETHER_MS = 300;
const STILL_PX = 16;

interface Finger {
  x: number;
  y: number;
  /** When and where it was put down. */
  since: number;
  from: { x: number; y: number };
}

/**
 * Two fingers on the stage: a pinch zooms about the point between them, both together pan. The first finger's drag is
 * cancelled; once it has been drawing or dragging for a while, a second finger changes nothing.
 */
export class Pinch {
  private readonly fingers = new Map<number, Finger>();
  private last: { x: number; y: number; distance: number } | null = null;

  constructor(
    private readonly view: Viewport,
    private readonly held: HeldDrag,
  ) {}

  /** Hears all pointers of an element before its own parts do. */
  watch(element: HTMLElement, signal: AbortSignal): void {
    const how = { capture: true, signal };
    element.addEventListener('pointerdown', (event) => this.down(event), how);
    element.addEventListener('pointermove', (event) => this.move(event), how);
    for (const type of ['pointerup', 'pointercancel'] as const)
      element.addEventListener(type, (event) => this.up(event), how);
  }

  private down(event: PointerEvent): void {
    if (event.pointerType !== 'touch') return;
    // A primary touch means that no other finger is down.
    if (event.isPrimary) this.fingers.clear();
    const from = { x: event.clientX, y: event.clientY };
    this.fingers.set(event.pointerId, { ...from, from, since: event.timeStamp });
    if (this.fingers.size < 2) return;
    const [first, second] = [...this.fingers.values()];
    const way = Math.hypot(first!.x - first!.from.x, first!.y - first!.from.y);
    const isFresh = second!.since - first!.since <= TOGETHER_MS && way <= STILL_PX;
    const isFree = this.held.pans || isFresh;
    if (this.fingers.size === 2 && isFree) {
      this.held.cancel();
      this.last = this.measure();
    }
    event.stopPropagation();
  }

  private move(event: PointerEvent): void {
    const finger = this.fingers.get(event.pointerId);
    if (!finger) return;
    [finger.x, finger.y] = [event.clientX, event.clientY];
    if (!this.last) return;
    event.stopPropagation();
    const now = this.measure();
    const { x, y } = this.view.fromPointer({ clientX: now.x, clientY: now.y });
    this.view.pan(now.x - this.last.x, now.y - this.last.y);
    this.view.zoomTo((this.view.view().zoom * now.distance) / this.last.distance, x, y);
    this.last = now;
  }

  private up(event: PointerEvent): void {
    if (!this.fingers.delete(event.pointerId)) return;
    if (this.last) event.stopPropagation();
    this.last = null;
  }

  private measure(): { x: number; y: number; distance: number } {
    const [a, b] = [...this.fingers.values()];
    return {
      x: (a!.x + b!.x) / 2,
      y: (a!.y + b!.y) / 2,
      distance: Math.max(8, Math.hypot(a!.x - b!.x, a!.y - b!.y)),
    };
  }
}

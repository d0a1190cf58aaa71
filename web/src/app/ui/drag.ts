import { DOCUMENT, Directive, ElementRef, Injectable, inject, input } from '@angular/core';
import { StageRenderLoop } from '../engine/stage-render-loop';
import { OpenProject } from '../project/session/open-project';

/** Raw pointer events come up to a thousand times a second: no more of them than this are worth an answer. */
const MIN_GAP_MS = 5;

/** A hand that is down. */
export interface DragHandler {
  move(event: PointerEvent): void;
  /** The hand lifts, or the system takes the pointer away: what was done stays. */
  end?(): void;
  /** The person takes the drag back, by Escape. */
  cancel(): void;
  /** It wants every place that the pointer went through, as a stroke does; else the newest is enough. */
  every?: boolean;
  /** It moves the view alone: a second finger may join it. */
  pans?: boolean;
}

/** Begins a drag; null where the hand does not take hold of anything. */
export type DragStart = (event: PointerEvent) => DragHandler | null;

/** The drag that goes on just now, for whoever has to take it back. */
@Injectable({ providedIn: 'root' })
export class HeldDrag {
  private current: { hand: DragHandler; cancel: () => void } | null = null;

  /** True where the hand only pans. */
  get pans(): boolean {
    return this.current?.hand.pans ?? false;
  }

  hold(hand: DragHandler, cancel: () => void): void {
    this.current = { hand, cancel };
  }

  letGo(hand: DragHandler): void {
    if (this.current?.hand === hand) this.current = null;
  }

  cancel(): void {
    this.current?.cancel();
  }
}

/**
 * Lets a hand drag an element: with one pointer, held until it lifts. A second finger does not break it, Escape takes
 * it back, and what stands beside the picture follows in beats meanwhile.
 */
@Directive({
  selector: '[hlDrag]',
  host: {
    '(pointerdown)': 'down($event)',
    '(pointermove)': 'move($event)',
    '(pointerrawupdate)': 'raw($event)',
    '(pointerup)': 'up($event)',
    '(pointercancel)': 'up($event)',
    '[style.touch-action]': '"none"',
  },
})
export class Drag {
  readonly hlDrag = input.required<DragStart>();
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly page = inject(DOCUMENT);
  private readonly project = inject(OpenProject);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly heldDrag = inject(HeldDrag);
  private held: { hand: DragHandler; pointerId: number } | null = null;
  private last = { x: NaN, y: NaN, at: -Infinity };

  protected down(event: PointerEvent): void {
    if (this.held) return;
    const hand = this.hlDrag()(event);
    if (!hand) return;
    event.preventDefault();
    event.stopPropagation();
    this.element.focus({ preventScroll: true });
    this.element.setPointerCapture(event.pointerId);
    this.held = { hand, pointerId: event.pointerId };
    this.last = { x: event.clientX, y: event.clientY, at: event.timeStamp };
    this.heldDrag.hold(hand, () => this.release()?.cancel());
    this.project.hand.set(true);
    this.page.addEventListener('keydown', this.escape, { capture: true });
  }

  /** `pointerrawupdate` comes as soon as the hand moves: answering it puts the picture into that same frame. */
  protected raw(event: Event): void {
    const { clientX, clientY, timeStamp } = event as PointerEvent;
    const held = this.heldBy(event as PointerEvent);
    if (!held || held.every) return;
    // While the answer to the last one is on its way, the next can wait: the frame's own event repeats it.
    if (this.renderLoop.isAnswering || timeStamp - this.last.at < MIN_GAP_MS) return;
    if (this.isNew(clientX, clientY, timeStamp)) held.move(event as PointerEvent);
  }

  protected move(event: PointerEvent): void {
    const held = this.heldBy(event);
    if (!held) return;
    const places = held.every ? (event.getCoalescedEvents?.() ?? []) : [];
    for (const one of places.length > 0 ? places : [event])
      if (this.isNew(one.clientX, one.clientY, one.timeStamp)) held.move(one);
  }

  protected up(event: PointerEvent): void {
    if (!this.heldBy(event)) return;
    this.release()!.end?.();
  }

  private heldBy(event: PointerEvent): DragHandler | null {
    return this.held?.pointerId === event.pointerId ? this.held.hand : null;
  }

  private isNew(x: number, y: number, at: number): boolean {
    if (x === this.last.x && y === this.last.y) return false;
    this.last = { x, y, at };
    return true;
  }

  private readonly escape = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape') return;
    event.preventDefault();
    event.stopPropagation();
    this.release()?.cancel();
  };

  private release(): DragHandler | null {
    const hand = this.held?.hand ?? null;
    if (this.held && this.element.hasPointerCapture(this.held.pointerId))
      this.element.releasePointerCapture(this.held.pointerId);
    this.held = null;
    if (hand) this.heldDrag.letGo(hand);
    this.page.removeEventListener('keydown', this.escape, { capture: true });
    this.project.hand.set(false);
    return hand;
  }
}

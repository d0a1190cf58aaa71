import { BreakpointObserver } from '@angular/cdk/layout';
import { Injectable, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';

/**
 * How the window is laid out: `wide` has the route at the left and the panel at the right; `beside` and `below` have
 * the route as a row, and the panel beside or below the stage; `phone` has the panel as a sheet.
 */
export type Layout = 'wide' | 'beside' | 'below' | 'phone';

const WIDE = '(min-width: 1100px)';
const NARROW = '(max-width: 699.98px)';
/** Buttons for fingers take more of the bar. */
const NARROW_FOR_FINGERS = '(pointer: coarse) and (max-width: 899.98px)';
const TALL = '(max-aspect-ratio: 1/1)';
/** From here there is room for the profile between stage and panel. */
const RAIL = '(min-width: 900px)';

/** The layout that the window's size asks for. */
@Injectable({ providedIn: 'root' })
export class WindowLayout {
  private readonly matches = toSignal(
    inject(BreakpointObserver).observe([WIDE, NARROW, NARROW_FOR_FINGERS, TALL, RAIL]),
    {
      requireSync: true,
    },
  );
  /** The bar keeps only what is needed at every moment. */
  readonly isNarrow = computed(() => {
    const { breakpoints } = this.matches();
    return breakpoints[NARROW]! || breakpoints[NARROW_FOR_FINGERS]!;
  });
  readonly layout = computed<Layout>(() => {
    const { breakpoints } = this.matches();
    if (breakpoints[WIDE]) return 'wide';
    if (!breakpoints[TALL]) return 'beside';
    return breakpoints[NARROW] ? 'phone' : 'below';
  });
  readonly hasRoomForRail = computed(
    () => this.layout() === 'below' || this.matches().breakpoints[RAIL] === true,
  );
}

import { Injectable, signal } from '@angular/core';

/** How the brush is set; a stroke keeps what it was drawn with. Lengths are fractions of the diagonal. */
export interface BrushSettings {
  mode: 'clear' | 'haze' | 'erase';
  radius: number;
  softness: number;
  strength: number;
  pressure: 'none' | 'size' | 'strength';
}

/** How one scribbles for a matte. */
export interface ScribbleSettings {
  inside: boolean;
  radius: number;
}

/** What a scale is reckoned with: metres, millimetres, and an f-number. */
export interface ScaleSettings {
  distance: number;
  focal: number;
  fNumber: number;
}

/** How the tools work from now on: nothing of this is saved with the project. */
@Injectable({ providedIn: 'root' })
export class ToolSettings {
  readonly brush = signal<BrushSettings>({
    mode: 'clear',
    radius: 0.03,
    softness: 0.6,
    strength: 1,
    pressure: 'none',
  });
  readonly scribble = signal<ScribbleSettings>({ inside: true, radius: 0.004 });
  /** Both sides of a planar band move together. */
  readonly linkSides = signal(false);
  /** All eight falloffs of an iris move together. */
  readonly linkFalloffs = signal(true);

  /** What the scale gauge assumes: metres to what is in focus, and the lens that looks at the model. */
  readonly scale = signal<ScaleSettings>({ distance: 60, focal: 50, fNumber: 4 });

  /** Makes the tool under the hand larger or smaller. */
  resize(tool: 'brush' | 'scribble', by: number): void {
    const sized = (radius: number): number => Math.min(1, Math.max(0.0005, radius * by));
    if (tool === 'brush') this.brush.update((now) => ({ ...now, radius: sized(now.radius) }));
    else this.scribble.update((now) => ({ ...now, radius: sized(now.radius) }));
  }
}

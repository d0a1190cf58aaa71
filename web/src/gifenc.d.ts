declare module 'gifenc' {
  type Palette = number[][];
  export function quantize(rgba: Uint8Array, most: number): Palette;
  export function applyPalette(rgba: Uint8Array, palette: Palette): Uint8Array;
  /** Not `auto`: what begins and ends a file is written when it is called for. */
  export function GIFEncoder(options: { auto: false }): {
    writeHeader(): void;
    writeFrame(
      index: Uint8Array,
      width: number,
      height: number,
      /** Delay in milliseconds; `repeat` 0 is for ever. */
      options: { palette: Palette; delay: number; repeat: number; first: boolean },
    ): void;
    bytes(): Uint8Array;
    /** Forgets what was written. */
    reset(): void;
  };
}

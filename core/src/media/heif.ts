/** What is used of libheif's own interface. */
export interface HeifImage {
  get_width(): number;
  get_height(): number;
  display(target: HeifPixels, done: (filled: HeifPixels | null) => void): void;
}
export interface HeifPixels {
  data: Uint8ClampedArray;
  width: number;
  height: number;
}
export interface HeifLibrary {
  HeifDecoder: new () => { decode(bytes: Uint8Array): HeifImage[] };
}

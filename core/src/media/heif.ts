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
  heif_context_alloc(): HeifContext;
  heif_context_free(context: HeifContext): void;
  heif_context_read_from_memory(context: HeifContext, bytes: Uint8Array): HeifError;
  heif_js_context_get_image_handle(context: HeifContext, item: number): HeifHandle | HeifError;
  heif_image_handle_get_width(handle: HeifHandle): number;
  heif_image_handle_get_height(handle: HeifHandle): number;
  heif_js_decode_image2(
    handle: HeifHandle,
    colours: unknown,
    chroma: unknown,
  ): HeifDecoded | HeifError | Promise<HeifDecoded | HeifError>;
  heif_image_release(image: unknown): void;
  heif_image_handle_release(handle: HeifHandle): void;
  heif_colorspace: Record<'heif_colorspace_monochrome', unknown>;
  heif_chroma: Record<'heif_chroma_monochrome', unknown>;
}
type HeifContext = { readonly isContext: unique symbol };
export type HeifHandle = { readonly isHandle: unique symbol };
export interface HeifError {
  code: unknown;
  message: string;
}
export interface HeifDecoded {
  image: unknown;
  /** Rows of `stride` bytes; two a sample where that has more than 8 bits, the lower first. */
  channels: { width: number; height: number; stride: number; data: Uint8Array; bits_per_pixel: number }[];
}

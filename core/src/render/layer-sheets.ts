import { blurOf } from '../blur';
import type { BlurLook } from '../blur/blur';
import type { Region } from '../geometry/size';
import { type LayerLook, isClearLayer, layerKey } from '../layers/layer';
import { type Box, type PlaceTask, layerBounds, placedOn } from '../layers/placing';
import type { LightLevel } from '../layers/image';
import { neutralRecipe } from '../recipe/parse';
import { IN_SRGB, type Job, type RenderSettings } from './settings';
import type { View } from './plan';

/** Blurred light of a layer where it lies on the region in hand: four planes of floats a row, premultiplied. */
export interface LayerSheet extends Box {
  /** Of the layer. */
  id: string;
  /** It was cut out of the picture. */
  isOwn: boolean;
  /** So it was, and nothing of it is hazy. */
  isPlain: boolean;
  /** The same for the same light. */
  key: string;
  buffer: ArrayBufferLike;
  /** Of the first sample of the region's pixel (x, y); bytes from one row to the next, and from one plane to the next. */
  at: number;
  row: number;
  plane: number;
  opacity: number;
}

/** What lies over the picture in hand, and what is laid into it before it is blurred. */
export interface RenderSheets {
  sheets: readonly LayerSheet[];
  grounds: readonly LayerSheet[];
}

export const NO_SHEETS: RenderSheets = { sheets: [], grounds: [] };

const LIGHT = { covered: 'light' } as const;
const { colour, finish } = neutralRecipe();

/** Blurs one layer: see `SharedRenderer`. */
export interface LayerRenderer {
  open(view: View): Promise<void>;
  load(level: LightLevel): Promise<void>;
  place(how: Omit<PlaceTask, 'width' | 'out'>): Promise<void>;
  /** Bytes of the source. */
  input(slot: number): Uint8Array;
  render(job: Job, options: { signal?: AbortSignal | undefined }): Promise<Uint8Array>;
  close(): Promise<void>;
}

interface Kept {
  renderer: LayerRenderer;
  /** What the renderer is open for, the level that it took in, what lies in its source, and the sheet that it made. */
  open: string;
  level: LightLevel | null;
  source: string;
  sheet: LayerSheet | null;
}

/** Blurs layers, each by itself and only where it lies; what did not change is kept. */
export class LayerSheets {
  private readonly kept = new Map<string, Kept>();

  /** @param threads that a renderer shares its rows out among. */
  constructor(
    private readonly newRenderer: () => LayerRenderer,
    private readonly threads: number,
  ) {}

  /** The sheets of layers that lie on a view, in their order. @throws the signal's reason. */
  async of(
    layers: readonly LayerLook[],
    blur: BlurLook,
    view: View,
    signal?: AbortSignal,
  ): Promise<LayerSheet[]> {
    for (const [id, { renderer }] of this.kept)
      if (!layers.some((layer) => layer.id === id)) {
        this.kept.delete(id);
        await renderer.close();
      }
    const sheets: LayerSheet[] = [];
    for (const layer of layers) {
      signal?.throwIfAborted();
      const sheet = layer.opacity > 0 ? await this.sheet(layer, blur, view, signal) : null;
      if (sheet) sheets.push({ ...sheet, opacity: layer.opacity });
    }
    return sheets;
  }

  private async sheet(
    layer: LayerLook,
    blur: BlurLook,
    view: View,
    signal?: AbortSignal,
  ): Promise<LayerSheet | null> {
    const { picture } = view.region;
    const kind = blurOf(blur);
    const isClear = isClearLayer(layer) || kind.strength(blur, picture) === 0;
    const reach = isClear ? 0 : Math.ceil(kind.reach(blur, picture)) + 2;
    const lies = grown(layerBounds(layer, picture, layer.image.levels[0]), reach);
    const part = shared(lies, grown(view.region, reach));
    const seen = part && shared(part, view.region);
    if (!part || !seen) return null;
    const region: Region = { ...part, picture };
    const most = isClear ? 0 : kind.strength(blur, picture);
    const how = kind.key(blur) + kind.passKey(blur);
    let kept = this.kept.get(layer.id);
    if (!kept) {
      kept = { renderer: this.newRenderer(), open: '', level: null, source: '', sheet: null };
      this.kept.set(layer.id, kept);
    }
    const { level, ...lain } = placedOn(layer.image, layer, region);
    const isOwn = layer.isOwn === true;
    const named = { id: layer.id, isOwn, isPlain: isOwn && isClear };
    const open = JSON.stringify([region, blur.kind, most, view.isDraft, level.width, level.height]);
    const key = [open, layerKey(layer), how, JSON.stringify(view.region)].join();
    if (kept.sheet?.key === key) return kept.sheet;
    kept.sheet = null;
    const { renderer } = kept;
    if (kept.open !== open) {
      kept.open = kept.source = '';
      kept.level = null;
      // A view that has a strip for each thread keeps what was made of them; see `View`.
      const isKept = view.stripRows * this.threads >= view.region.height;
      const stripRows = isKept ? Math.ceil(part.height / this.threads) : kind.stripRows;
      const formats = { input: LIGHT, output: LIGHT };
      await renderer.open({
        ...view,
        ...formats,
        region,
        most,
        stripRows,
        hasDepth: false,
        slots: 1,
        image: { width: level.width, height: level.height },
      });
      kept.open = open;
    }
    if (kept.level !== level) {
      kept.level = null;
      kept.source = '';
      await renderer.load(level);
      kept.level = level;
    }
    const source = [layer.image.id, layer.centre, layer.width, layer.turn, layer.flip].join();
    if (kept.source !== source) {
      kept.source = '';
      await renderer.place({ ...lain, isQuick: view.isDraft });
      kept.source = source;
    }
    const { field } = layer;
    if (isClear) {
      kept.sheet = { ...named, ...sheetIn(key, renderer.input(0), part, seen, view.region) };
      return kept.sheet;
    }
    const look: RenderSettings = {
      field,
      blur,
      colour,
      finish,
      table: null,
      light: 1,
      // Its light is converted where it is laid.
      primaries: IN_SRGB,
      measured: null,
      layers: [],
      grounds: [],
    };
    const job = { slot: 0, source, look, content: 'picture' } as const;
    const light = await renderer.render(job, { signal });
    kept.sheet = { ...named, ...sheetIn(key, light, part, seen, view.region) };
    return kept.sheet;
  }

  async close(): Promise<void> {
    const all = [...this.kept.values()];
    this.kept.clear();
    await Promise.all(all.map(({ renderer }) => renderer.close()));
  }
}

/** The part of a layer's light that is seen on a region. */
function sheetIn(
  key: string,
  light: Uint8Array,
  part: Box,
  seen: Box,
  region: Box,
): Omit<LayerSheet, 'id' | 'isOwn' | 'isPlain'> {
  const row = light.byteLength / part.height;
  return {
    key,
    x: seen.x - region.x,
    y: seen.y - region.y,
    width: seen.width,
    height: seen.height,
    buffer: light.buffer,
    at: light.byteOffset + (seen.y - part.y) * row + 4 * (seen.x - part.x),
    row,
    plane: row / 4,
    opacity: 1,
  };
}

const grown = ({ x, y, width, height }: Box, by: number): Box => ({
  x: x - by,
  y: y - by,
  width: width + 2 * by,
  height: height + 2 * by,
});

/** What two boxes have in common, from an even column on; null where that is nothing. */
function shared(a: Box, b: Box): Box | null {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  const width = Math.min(a.x + a.width, b.x + b.width) - x;
  const height = Math.min(a.y + a.height, b.y + b.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

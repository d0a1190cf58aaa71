import { blurOf } from '../blur';
import type { BlurLook } from '../blur/blur';
import type { Region } from '../focus/geometry';
import { type LayerLook, isClearLayer, layerKey } from '../layers/layer';
import { type Box, type PlaceTask, layerBounds, placeTask } from '../layers/placing';
import { neutralRecipe } from '../recipe/parse';
import type { Job, Look } from './look';
import type { View } from './plan';

/** Blurred light of a layer where it lies on the region in hand: four planes of floats a row, premultiplied. */
export interface LayerSheet extends Box {
  /** The same for the same light. */
  key: string;
  buffer: ArrayBufferLike;
  /** Of the first sample of the region's pixel (x, y); bytes from one row to the next, and from one plane to the next. */
  at: number;
  row: number;
  plane: number;
  opacity: number;
}

const LIGHT = { covered: 'light' } as const;
const { colour, finish } = neutralRecipe();

/** Blurs one layer: see `SharedRenderer`. */
export interface LayerRenderer {
  open(view: View): Promise<void>;
  place(task: PlacedImage): Promise<void>;
  render(job: Job, options: { signal?: AbortSignal | undefined }): Promise<Uint8Array>;
  close(): Promise<void>;
}

/** An image to be written where it lies, wherever that is in memory. */
export type PlacedImage = Omit<PlaceTask, 'memory' | 'at' | 'row' | 'from' | 'to'>;

interface Kept {
  renderer: LayerRenderer;
  /** What the renderer is open for, what lies in its source, and the sheet that it made. */
  open: string;
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

  /** The sheets of a look's layers that lie on a view, the farthest first. @throws the signal's reason. */
  async of({ layers, blur }: Look, view: View, signal?: AbortSignal): Promise<LayerSheet[]> {
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
      kept = { renderer: this.newRenderer(), open: '', source: '', sheet: null };
      this.kept.set(layer.id, kept);
    }
    const open = JSON.stringify([region, blur.kind, most, view.isDraft]);
    const key = [open, layerKey(layer), how, JSON.stringify(view.region)].join();
    if (kept.sheet?.key === key) return kept.sheet;
    kept.sheet = null;
    const { renderer } = kept;
    if (kept.open !== open) {
      kept.open = kept.source = '';
      // A view that has a strip for each thread keeps what was made of them; see `View`.
      const isKept = view.stripRows * this.threads >= view.region.height;
      const stripRows = isKept ? Math.ceil(part.height / this.threads) : kind.stripRows;
      const formats = { input: LIGHT, output: LIGHT };
      await renderer.open({ ...view, ...formats, region, most, stripRows, hasDepth: false, slots: 1 });
      kept.open = open;
    }
    const source = [layer.image.id, layer.centre, layer.width, layer.turn, layer.flip].join();
    if (kept.source !== source) {
      kept.source = '';
      const isQuick = view.isDraft;
      await renderer.place({ ...placeTask(layer.image, layer, region), isQuick });
      kept.source = source;
    }
    const { field } = layer;
    const look: Look = { field, blur, colour, finish, table: null, light: 1, measured: null, layers: [] };
    const job = { slot: 0, source, look, content: 'picture', isBlurred: isClear } as const;
    const light = await renderer.render(job, { signal });
    const row = light.byteLength / part.height;
    const [x, y] = [seen.x - part.x, seen.y - part.y];
    kept.sheet = {
      key,
      x: seen.x - view.region.x,
      y: seen.y - view.region.y,
      width: seen.width,
      height: seen.height,
      buffer: light.buffer,
      at: light.byteOffset + y * row + 4 * x,
      row,
      plane: row / 4,
      opacity: 1,
    };
    return kept.sheet;
  }

  async close(): Promise<void> {
    const all = [...this.kept.values()];
    this.kept.clear();
    await Promise.all(all.map(({ renderer }) => renderer.close()));
  }
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

import { type ResolvedFocus, fieldKey } from '../focus/field';
import type { LayerImage } from './image';
import type { LayerPlace } from './placing';

/** What lies over a picture, as it is rendered: light with a coverage, and a haze of its own. */
export interface LayerLook extends LayerPlace {
  id: string;
  image: LayerImage;
  /** 0..1. */
  opacity: number;
  field: ResolvedFocus;
  /** It was cut out of the picture: over what is as it came, it changes nothing while it is clear. */
  isOwn?: true;
}

/** The same for layers of which the same light comes, before their opacity. */
export function layerKey({ id, image, centre, width, turn, flip, field }: LayerLook): string {
  return JSON.stringify([id, image.id, centre, width, turn, flip, fieldKey(field)]);
}

/** True where nothing of a layer is blurred. */
export function isClearLayer({ field }: Pick<LayerLook, 'field'>): boolean {
  const { rest, soundings, depth, bands, strokes, keep } = field;
  return rest + soundings.length + bands.length + strokes.length + keep.length === 0 && depth === null;
}

import { irisPolar } from '../../focus/bands/iris';
import { ellipticalDistance } from '../../focus/bands/elliptical';
import { linearGradient } from '../../focus/bands/linear';
import { planarDistance } from '../../focus/bands/planar';
import type { FieldFunction } from '../../focus/field-function';
import { type Size, diagonal } from '../../geometry/size';
import { type Raster, makeRaster, rasterBounds } from '../../geometry/raster';
import type { Band } from '../../recipe/focus-schema';
import type { Box } from './corners';

/** Long side of the rasters that say what lies within. */
const EDGE = 480;
/** Less than this of a band's size, in diagonals, holds nothing to be followed: its surroundings are looked at, too. */
const MIN_RADIUS = 0.025;
/** Half the width of a strip that holds enough to be followed. */
const MIN_STRIP = 0.06;
/** So far along a strip, in diagonals each way from its middle, it is looked at: what is farther out turns with the view. */
const ALONG_STRIP = 0.2;
/** What a strip lets in of its falloff. */
const OF_FALLOFF = 0.25;

/** Signed: negative for what lies in a band: inside of its rim, in its clear strip, at its clear end. */
function bandDepth(band: Band, size: Size): FieldFunction {
  switch (band.kind) {
    case 'elliptical': {
      const [a, b] = band.radii;
      const wide = {
        ...band,
        radii: [Math.max(a, MIN_RADIUS), Math.max(b, MIN_RADIUS)] as [number, number],
      };
      const distance = ellipticalDistance(wide, size);
      return (x, y) => distance(x, y) - 1;
    }
    case 'iris': {
      const polar = irisPolar({ ...band, radius: Math.max(band.radius, MIN_RADIUS) }, size);
      return (x, y) => polar(x, y)[0] - 1;
    }
    case 'planar': {
      const [cx, cy] = [band.centre[0] * size.width, band.centre[1] * size.height];
      const reach = ALONG_STRIP * diagonal(size);
      return (x, y) => {
        const s = planarDistance(band, size, x, y);
        const { clear, falloff } = s >= 0 ? band.near : band.far;
        const beside = Math.abs(s) - Math.max(MIN_STRIP, clear + OF_FALLOFF * falloff);
        return Math.max(beside, Math.hypot(x - cx, y - cy) - reach);
      };
    }
    case 'linear': {
      const gradient = linearGradient(band, size);
      const isStartClear = band.startHaze <= band.endHaze !== band.invert;
      return (x, y) => {
        if (!gradient) return -1;
        const t = (x - gradient.x) * gradient.tx + (y - gradient.y) * gradient.ty;
        return isStartClear ? t - 0.5 : 0.5 - t;
      };
    }
  }
}

/** What lies in a band, as an outline over a frame: white within. */
export function bandOutline(band: Band, size: Size): Raster {
  return outlineOf('band', bandDepth(band, size), size);
}

/** What lies around a place (fractions of width and height) within so many diagonals, as an outline over a frame. */
export function discOutline([u, v]: readonly [number, number], radius: number, size: Size): Raster {
  const reach = radius * diagonal(size);
  return outlineOf('disc', (x, y) => Math.hypot(x - u * size.width, y - v * size.height) - reach, size);
}

function outlineOf(id: string, depth: FieldFunction, size: Size): Raster {
  const scale = Math.min(1, EDGE / Math.max(size.width, size.height));
  const width = Math.max(1, Math.round(size.width * scale));
  const height = Math.max(1, Math.round(size.height * scale));
  const samples = Uint16Array.from({ length: width * height }, (_, i) => {
    const x = (((i % width) + 0.5) * size.width) / width;
    const y = ((Math.floor(i / width) + 0.5) * size.height) / height;
    return depth(x, y) <= 0 ? 65535 : 0;
  });
  return makeRaster(id, width, height, samples);
}

/** The box around what an outline says, in pixels of a frame; null where nothing of it lies within. */
export function outlineBox(outline: Raster, { width, height }: Size): Box | null {
  const bounds = rasterBounds(outline);
  return (
    bounds && {
      left: bounds.left * width - 0.5,
      right: bounds.right * width - 0.5,
      top: bounds.top * height - 0.5,
      bottom: bounds.bottom * height - 0.5,
    }
  );
}

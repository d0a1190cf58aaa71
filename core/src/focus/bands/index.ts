import type { Band } from '../../recipe/focus-schema';
import type { FieldFunction } from '../field-function';
import type { Region, Size } from '../../geometry/size';
import type { PackedBand } from '../pack';
import { ellipticalField, packElliptical } from './elliptical';
import { irisField, packIris } from './iris';
import { linearField, packLinear } from './linear';
import { packPlanar, planarField } from './planar';

/** A band's own haze at a point, whatever its kind; its mode is not in it. */
export function bandField(band: Band, size: Size): FieldFunction {
  switch (band.kind) {
    case 'planar':
      return planarField(band, size);
    case 'linear':
      return linearField(band, size);
    case 'elliptical':
      return ellipticalField(band, size);
    case 'iris':
      return irisField(band, size);
  }
}

/** A band as the kernels read it over a region. */
export function bandPack(band: Band, region: Region): PackedBand {
  switch (band.kind) {
    case 'planar':
      return packPlanar(band, region);
    case 'linear':
      return packLinear(band, region);
    case 'elliptical':
      return packElliptical(band, region);
    case 'iris':
      return packIris(band, region);
  }
}

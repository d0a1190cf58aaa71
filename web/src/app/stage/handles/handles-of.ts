import type { Band } from '@hazy-lens/core';
import { ellipticalHandles } from './elliptical-handles';
import type { Handles } from './handles';
import { irisHandles } from './iris-handles';
import { linearHandles } from './linear-handles';
import { planarHandles } from './planar-handles';

/** How a band is held, whatever its kind. */
export function handlesOf(band: Band): Handles {
  const all: { [K in Band['kind']]: Handles<Extract<Band, { kind: K }>> } = {
    planar: planarHandles,
    linear: linearHandles,
    elliptical: ellipticalHandles,
    iris: irisHandles,
  };
  return all[band.kind] as unknown as Handles;
}

import { type Focus, type PlanarBand, planarBandSchema } from '@hazy-lens/core';
import type { Document } from '../../state/document';

/** What a band is called: its own name, or its kind and place. */
export function bandName(band: PlanarBand, focus: Focus): string {
  return band.name ?? `Planar ${focus.bands.findIndex((one) => one.id === band.id) + 1}`;
}

/** Adds a band with a generous falloff and gives its id. */
export function addBand(document: Document): string {
  const id = crypto.randomUUID();
  const { bands } = document.recipe().focus;
  // A second band starts where the first is not.
  const centre: [number, number] = [0.5, bands.length === 0 ? 0.55 : 0.3];
  document.edit('new band', (draft) =>
    draft.focus.bands.push(planarBandSchema.parse({ id, kind: 'planar', centre })),
  );
  return id;
}

/** Puts a copy behind a band, a little lower in the picture, and gives its id. */
export function duplicateBand(document: Document, band: PlanarBand): string {
  const id = crypto.randomUUID();
  document.edit('duplicate band', (draft) => {
    const at = draft.focus.bands.findIndex((one) => one.id === band.id);
    const copy: PlanarBand = {
      ...structuredClone(band),
      id,
      name: `${bandName(band, draft.focus)} copy`,
      centre: [band.centre[0], Math.min(0.95, band.centre[1] + 0.08)],
    };
    draft.focus.bands.splice(at + 1, 0, copy);
  });
  return id;
}

// Whatever a hand does, in whatever order, the recipe can be stored and read again.
import { type Band, type BandKind, type Point, parseRecipe } from '@hazy-lens/core';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { addKnot, knotsOf, moveKnot, railAxis, railKnots, removeKnot } from '../src/app/profile/rail-axis';
import { OpenProject } from '../src/app/project/session/open-project';
import { handlesOf } from '../src/app/stage/handles/handles-of';
import { addBand, duplicateBand, moveBand, bandFromDrag } from '../src/app/model/bands';
import { addSounding } from '../src/app/model/soundings';
import { newMatte } from '../src/app/model/mattes';
import { openOne, services, size } from './services';

const kinds: BandKind[] = ['planar', 'linear', 'elliptical', 'iris'];

const openProject = (): OpenProject => services(openOne).injector.get(OpenProject);

/** A place far beyond the picture, as a hand comes to beside one that is shown small. */
const far = fc.integer({ min: -40_000, max: 40_000 });
const spot = fc.record({ x: far, y: far });
const act = fc.record({ what: fc.integer({ min: 0, max: 11 }), which: fc.nat(60), from: spot, to: spot, linked: fc.boolean() }); // prettier-ignore
type Act = typeof act extends fc.Arbitrary<infer T> ? T : never;

function carryOut(project: OpenProject, { what, which, from, to, linked }: Act): void {
  const point = ({ x, y }: { x: number; y: number }): Point => [x / size.width, y / size.height];
  const { bands } = project.recipe().focus;
  const band = bands[which % Math.max(1, bands.length)];
  const kind = kinds[which % 4]!;
  const far = 1e5;
  const sight = [[-far, -far], [far, -far], [far, far], [-far, far]].map(([x, y]) => ({ x: x!, y: y! })); // prettier-ignore
  const edit = (change: (one: Band) => void): void => {
    if (band) project.editBand(band.id, 'edit', change, linked ? 'gesture' : null);
  };
  switch (what) {
    case 0:
      return project.edit('new band', (draft) =>
        addBand(draft.focus, bandFromDrag(kind, point(from), point(to), size, crypto.randomUUID())),
      );
    case 1:
      return project.edit('new sounding', (draft) => addSounding(draft.focus, point(to), size));
    case 2:
    case 3:
    case 4: {
      if (!band) return;
      const grips = handlesOf(band).grips(band, size, sight);
      const grip = grips[which % Math.max(1, grips.length)];
      if (grip && what < 4)
        edit((one) =>
          handlesOf(band).drag(one, band, size, { grip: grip.id, from, to, linked, stepped: linked }),
        );
      else if (grip) edit((one) => handlesOf(band).nudge(one, size, grip.id, to.x, to.y, linked));
      return;
    }
    case 5:
    case 6: {
      if (!band) return;
      const axis = railAxis(band, size, which * 6);
      const knots = railKnots(band, size, axis);
      const knot = knots[which % Math.max(1, knots.length)];
      if (knot)
        edit((one) =>
          moveKnot(one, band, size, axis, { id: knot.id, along: to.y, haze: to.x / 100, linked }),
        );
      return;
    }
    case 7:
      if (band) edit((one) => void addKnot(one, size, railAxis(band, size, 90), to.y / 100, to.x / 40_000));
      return;
    case 8:
      if (band && knotsOf(band.profile).length > 0) edit((one) => removeKnot(one, `knot-${which % 5}`));
      return;
    case 9:
      if (band) {
        edit((one) => (one.name = 'n'.repeat(which * 2)));
        project.edit('duplicate', (draft) => duplicateBand(draft.focus, band.id, crypto.randomUUID()));
      }
      return;
    case 10:
      return edit((one) => moveBand(one, to.x / size.width, to.y / size.height));
    default:
      return linked ? project.undo() : project.redo();
  }
}

describe('any sequence of commands', () => {
  let project: OpenProject;
  beforeEach(() => {
    project = openProject();
  });

  it('gives a recipe that can be read again', () => {
    fc.assert(
      fc.property(fc.array(act, { minLength: 1, maxLength: 25 }), (acts) => {
        project = openProject();
        for (const one of acts) {
          carryOut(project, one);
          expect(() => parseRecipe(JSON.parse(JSON.stringify(project.recipe())))).not.toThrow();
        }
      }),
      { numRuns: 150 },
    );
  });

  it('refuses a subject too many, and says so', () => {
    const matte = (i: number) => newMatte(`m${i}`, 'a.png');
    project.edit('fifty subjects', ({ focus }) => {
      for (let i = 0; i < 50; i++) focus.mattes.push(matte(i));
    });
    const before = project.recipe();
    project.edit('new subject', ({ focus }) => void focus.mattes.push(matte(50)));
    expect(project.recipe()).toBe(before);
    expect(project.undoLabel()).toBe('fifty subjects');
  });
});

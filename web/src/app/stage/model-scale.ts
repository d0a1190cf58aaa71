import { Injectable, computed, inject } from '@angular/core';
import {
  ASSUMED_HORIZON,
  type PlanarBand,
  type Recipe,
  type ScaleView,
  blurForScale,
  planarBandSchema,
  readScale,
} from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { ProjectNotices } from '../project/session/project-notices';
import { SuitReading } from '../project/subjects/suit-reading';
import { SelectionStore } from '../workspace/selection-store';
import { ToolStore } from '../workspace/tool-store';
import { FieldView } from './field-view';
import { stageWords } from '../words/stage';

/** A row in focus where the field has none. */
const MIDDLE = 0.55;
/** What is in focus lies at least so far below the horizon, in heights of the picture. */
const MIN_BELOW = 0.05;
const ABOUT = 'scale';

/** Which model scale the field and the blur speak of, and the field and blur of a scale that is asked for. */
@Injectable()
export class ModelScale {
  private readonly project = inject(OpenProject);
  private readonly fieldView = inject(FieldView);
  private readonly suit = inject(SuitReading);
  private readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  private readonly notices = inject(ProjectNotices);
  /** The horizon is read from the picture, not assumed. */
  readonly isRead = computed(() => (this.suit.suit()?.horizon ?? null) !== null);
  readonly view = computed<ScaleView>(() => ({
    ...this.settings.scale(),
    horizon: this.suit.suit()?.horizon ?? ASSUMED_HORIZON,
  }));

  /** Null where nothing is blurred as a lens would do it. */
  readonly reading = computed(() => {
    const { blur } = this.project.calmRecipe();
    if (!blur.on || !this.project.isOpen()) return null;
    return readScale(this.fieldView.pictureField(), this.project.size(), blur.radius, this.view());
  });

  /** Sets the planar band in hand, or the first there is, and the blur as a lens would draw a model of 1 : `scale`. */
  ask(scale: number): void {
    const size = this.project.size();
    const view = this.view();
    const row = Math.max(view.horizon + MIN_BELOW, this.reading()?.row ?? MIDDLE);
    const { radius, falloff, isHeld } = blurForScale(scale, row, size, view);
    const side = { clear: 0, falloff, haze: 1 };
    this.project.edit(stageWords.scale(Math.round(scale)), (draft) => {
      const band = this.bandOf(draft);
      Object.assign(band, { on: true, mode: 'clear', invert: false, angle: 0, profile: 'linear' });
      band.centre = [band.centre[0], row];
      band.near = { ...side };
      band.far = { ...side };
      draft.blur.on = true;
      draft.blur.radius = radius;
    });
    if (isHeld) this.notices.info(stageWords.theBlurIsAtItsLimit, ABOUT);
    else this.notices.clear(ABOUT);
  }

  private bandOf({ focus }: Recipe): PlanarBand {
    const chosen = this.selection.chosen();
    const planar = focus.bands.filter((band): band is PlanarBand => band.kind === 'planar');
    const own = planar.find(({ id }) => chosen.kind === 'band' && chosen.id === id) ?? planar[0];
    if (own) return own;
    const band = planarBandSchema.parse({ id: crypto.randomUUID(), kind: 'planar' });
    focus.bands.push(band);
    // The draft's own copy is the one that is written to.
    return focus.bands.at(-1) as PlanarBand;
  }
}

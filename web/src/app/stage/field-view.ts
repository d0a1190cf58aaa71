import { Injectable, computed, inject, resource } from '@angular/core';
import {
  type FieldFunction,
  type ResolvedFocus,
  type Focus,
  type Recipe,
  FieldPreview,
  elementField,
  type BlurEdge,
  resolveFocus,
  fieldOf,
  previewSize,
  steepestBlurEdge,
} from '@hazy-lens/core';
import { StageRenderLoop } from '../engine/stage-render-loop';
import { ProjectAssets } from '../project/session/project-assets';
import { OpenProject } from '../project/session/open-project';
import { SelectionStore } from '../workspace/selection-store';
import { type Contour, contoursOf } from './contours';

/** Cells along the picture's longer side: few for what is smooth, more where strokes and mattes have detail. */
const CELLS = { smooth: 72, detailed: 144 } as const;

/** The field of the layer in hand as the interface reads it: at a point, as contours, and its steepest place. */
@Injectable()
export class FieldView {
  private readonly project = inject(OpenProject);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly selection = inject(SelectionStore);
  private readonly focus = computed(() => this.project.recipe().focus);
  /** Of the picture itself. */
  readonly look = computed<ResolvedFocus>(() => this.lookOf(this.focus()));
  /** Of the layer in hand, which is the picture or an element. */
  readonly layerLook = computed(() => this.layerLookOf(this.project.recipe()));
  private readonly seenLook = computed(() => this.layerLookOf(this.project.seenRecipe()));
  readonly calmLook = computed(() => this.layerLookOf(this.project.calmRecipe()));
  /** Of the picture itself, as what stands beside it shows it. */
  readonly pictureField = computed<FieldFunction>(() =>
    fieldOf(this.lookOf(this.project.calmRecipe().focus), this.project.size()),
  );
  /** Haze at a point in pixels of the picture, as what stands beside the picture shows it. */
  readonly calmField = computed<FieldFunction>(() => fieldOf(this.calmLook(), this.project.size()));
  private readonly isDetailed = computed(() => {
    const { strokes, keep, depth } = this.calmLook();
    return strokes.length > 0 || keep.length > 0 || depth !== null;
  });
  private readonly sheet = resource({
    params: () => previewSize(this.project.size(), this.isDetailed() ? CELLS.detailed : CELLS.smooth),
    loader: async ({ params: { columns, rows } }) =>
      FieldPreview.create(await this.renderLoop.pool.module, columns, rows),
  });
  /** What bands and brush make: a subject's outline is meant to be seen, so it is no seam. */
  private readonly bare = computed<ResolvedFocus>(() => ({ ...this.calmLook(), keep: [] }));
  private readonly bareField = computed(() => fieldOf(this.bare(), this.project.size()));
  private readonly drawn = computed(() => (this.sheet.hasValue() ? this.sheet.value() : null));
  readonly contours = computed<Contour[]>(() => {
    const sheet = this.drawn();
    if (!sheet) return [];
    const values = sheet.draw(this.seenLook());
    return contoursOf(values, sheet.columns, sheet.rows, this.project.size(), this.project.radiusPx());
  });
  /** Where the blur sets in most steeply, or null before the field is known. */
  readonly seam = computed<BlurEdge | null>(() => {
    const sheet = this.drawn();
    if (!sheet) return null;
    const grid = sheet.inner(sheet.draw(this.bare()));
    return steepestBlurEdge(this.bareField(), grid, this.project.size(), this.project.radiusPx());
  });

  private layerLookOf(recipe: Recipe): ResolvedFocus {
    const own = this.lookOf(recipe.focus);
    const element = recipe.elements.find(({ id }) => id === this.selection.layer());
    return element ? elementField(element, this.project.size(), own) : own;
  }

  private lookOf(focus: Focus): ResolvedFocus {
    return resolveFocus(focus, this.project.size(), this.projectAssets.ofFocus());
  }
}

import { Injectable, computed, effect, inject } from '@angular/core';
import { IN_SRGB, type RenderSettings, type Region, blurOf, layeredLook, cropLook } from '@hazy-lens/core';
import { Display } from '../engine/display';
import { StageRenderLoop } from '../engine/stage-render-loop';
import { LutCache } from '../engine/lut-cache';
import type { MediaSource } from '../engine/media-source';
import { measuresOf } from '../engine/measures-of';
import { ProjectAssets } from '../project/session/project-assets';
import { Footage } from '../project/footage/footage';
import { OpenProject } from '../project/session/open-project';
import { SelectionStore } from '../workspace/selection-store';
import { ViewStore } from '../workspace/view-store';
import { Player } from '../workspace/player';
import { FieldView } from './field-view';
import { withLook } from '../model/looks';
import { Viewport } from '../workspace/viewport';
import { regionFor } from '../workspace/view-transform';

/** How much stronger the blur is shown while exaggerated. */
export const EXAGGERATION = 4;

/**
 * Asks the engine for what the stage should show, whenever that changes. It lives outside of any component: its effect
 * runs before the page is looked through, so that the workers are busy meanwhile.
 */
@Injectable()
export class StageRenderer {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly viewStore = inject(ViewStore);
  private readonly viewport = inject(Viewport);
  private readonly fieldView = inject(FieldView);
  private readonly footage = inject(Footage);
  private readonly player = inject(Player);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly luts = inject(LutCache);
  private readonly display = inject(Display);
  private last: { material: MediaSource; region: Region } | null = null;

  /** The colours with the look that is tried, and the table of that; other tables that are read change nothing here. */
  private readonly colour = computed(() => {
    const { colour } = this.project.recipe();
    const tried = this.viewStore.tried();
    return tried ? withLook(colour, tried.choice) : colour;
  });
  private readonly table = computed(() => this.luts.now(this.colour().look?.image));

  private readonly finish = computed(() => this.project.recipe().finish);
  private readonly measured = computed(() => {
    const picture = this.renderLoop.picture();
    const recipe = { colour: this.colour(), finish: this.finish() };
    return picture && measuresOf(picture, recipe, this.footage.noise());
  });

  private readonly gain = computed(() => this.renderLoop.picture()?.gain ?? 1);
  private readonly primaries = computed(
    () => {
      const picture = this.renderLoop.picture();
      if (!picture) return IN_SRGB;
      return { source: picture.primaries, output: this.display.primariesFor(picture) };
    },
    { equal: (a, b) => a.source === b.source && a.output === b.output },
  );

  private readonly look = computed<RenderSettings>(() => {
    const { blur, finish } = this.project.recipe();
    const map = this.viewStore.hazeMap();
    const own = this.fieldView.look();
    // The map shows the field of the layer in hand.
    const field = map ? this.fieldView.layerLook() : own;
    const sheet = this.viewport.sheet();
    const live = this.selection.liveStroke();
    const radius = this.viewStore.exaggerated() ? Math.min(0.1, blur.radius * EXAGGERATION) : blur.radius;
    const drawn = live ? { ...field, strokes: [...field.strokes, live] } : field;
    const layered = map
      ? { field: drawn, layers: [], grounds: [] }
      : layeredLook(this.project.recipe(), this.project.size(), this.projectAssets.now(), drawn);
    const look = {
      ...layered,
      blur: { ...blur, radius },
      colour: this.colour(),
      finish,
      table: this.table(),
      light: this.footage.light() * this.gain(),
      primaries: this.primaries(),
      measured: this.measured(),
    };
    return cropLook(look, sheet);
  });

  constructor() {
    effect(() => {
      const picture = this.renderLoop.picture();
      const material = this.renderLoop.material();
      const look = this.look();
      if (!picture || !material || !this.project.isOpen()) return;
      const sheet = this.viewport.sheet();
      const region = regionFor(
        this.viewport.view(),
        this.viewport.stage(),
        sheet,
        this.viewport.pixelRatio(),
        (size) => blurOf(look.blur).reach(look.blur, size),
        this.last?.material === material ? this.last.region : null,
      );
      this.last = { material, region };
      this.renderLoop.request({
        sheet,
        region,
        look,
        content: this.viewStore.hazeMap() ? 'haze-map' : 'picture',
        frame: this.footage.frame(),
        since: performance.now(),
        playing: this.player.mode(),
      });
    });
  }
}

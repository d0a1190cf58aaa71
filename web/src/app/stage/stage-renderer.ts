import { Injectable, computed, effect, inject } from '@angular/core';
import { type RenderSettings, type Region, blurOf, layeredLook, cropLook } from '@hazy-lens/core';
import { StageRenderLoop } from '../engine/engine';
import { LutCache } from '../engine/look-tables';
import type { MediaSource } from '../engine/material';
import { measuresOf } from '../engine/measures-of';
import { ProjectAssets } from '../project/companions';
import { Footage } from '../project/footage';
import { OpenProject } from '../project/open-project';
import { SelectionStore } from '../workspace/in-hand';
import { ViewStore } from '../workspace/looking';
import { Player } from '../workspace/player';
import { FieldView } from './field-view';
import { withLook } from '../model/looks';
import { Viewport } from '../workspace/stage-view';
import { regionFor } from '../workspace/view';

/** How much stronger the blur is shown while exaggerated. */
export const EXAGGERATION = 4;

/**
 * Asks the engine for what the stage should show, whenever that changes. It lives outside of any component: its effect
 * runs before the page is looked through, so that the workers are busy meanwhile.
 */
@Injectable()
export class StageRenderer {
  private readonly engine = inject(StageRenderLoop);
  private readonly project = inject(OpenProject);
  private readonly inHand = inject(SelectionStore);
  private readonly looking = inject(ViewStore);
  private readonly stageView = inject(Viewport);
  private readonly fieldView = inject(FieldView);
  private readonly footage = inject(Footage);
  private readonly player = inject(Player);
  private readonly companions = inject(ProjectAssets);
  private readonly tables = inject(LutCache);
  private last: { material: MediaSource; region: Region } | null = null;

  /** The colours with the look that is tried, and the table of that; other tables that are read change nothing here. */
  private readonly colour = computed(() => {
    const { colour } = this.project.recipe();
    const tried = this.looking.tried();
    return tried ? withLook(colour, tried.choice) : colour;
  });
  private readonly table = computed(() => this.tables.now(this.colour().look?.image));

  private readonly finish = computed(() => this.project.recipe().finish);
  private readonly measured = computed(() => {
    const picture = this.engine.picture();
    const measures = picture && measuresOf(picture, { colour: this.colour(), finish: this.finish() });
    return measures && { source: measures };
  });

  private readonly look = computed<RenderSettings>(() => {
    const { blur, finish } = this.project.recipe();
    const map = this.looking.hazeMap();
    const own = this.fieldView.look();
    // The map shows the field of the layer in hand.
    const field = map ? this.fieldView.layerLook() : own;
    const sheet = this.stageView.sheet();
    const live = this.inHand.liveInk();
    const radius = this.looking.exaggerated() ? Math.min(0.1, blur.radius * EXAGGERATION) : blur.radius;
    const drawn = live ? { ...field, ink: [...field.ink, live] } : field;
    const layered = map
      ? { field: drawn, layers: [], grounds: [] }
      : layeredLook(this.project.recipe(), this.project.size(), this.companions.now(), drawn);
    const look = {
      ...layered,
      blur: { ...blur, radius },
      colour: this.colour(),
      finish,
      table: this.table(),
      light: this.footage.light(),
      measured: this.measured(),
    };
    return cropLook(look, sheet);
  });

  constructor() {
    effect(() => {
      const picture = this.engine.picture();
      const material = this.engine.material();
      const look = this.look();
      if (!picture || !material || !this.project.isOpen()) return;
      const sheet = this.stageView.sheet();
      const region = regionFor(
        this.stageView.view(),
        this.stageView.stage(),
        sheet,
        this.stageView.pixelRatio(),
        (size) => blurOf(look.blur).reach(look.blur, size),
        this.last?.material === material ? this.last.region : null,
      );
      this.last = { material, region };
      this.engine.request({
        sheet,
        region,
        look,
        content: this.looking.hazeMap() ? 'haze-map' : 'picture',
        frame: this.footage.frame(),
        since: performance.now(),
        playing: this.player.mode(),
      });
    });
  }
}

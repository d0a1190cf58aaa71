import { Injectable, computed, inject, signal } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Band, BandKind, PackedStroke, Recipe } from '@hazy-lens/core';
import { bandIn, focusOf, focusPath, ownerOfBand } from '../model/elements';
import { OpenProject } from '../project/session/open-project';

/** What of the focus is in hand: the panel edits it, and stage gestures apply to it. */
export type Selection =
  | { kind: 'band'; id: string }
  | { kind: 'soundings'; index: number | null }
  | { kind: 'depth' }
  | { kind: 'brush' }
  | { kind: 'matte'; id: string }
  | { kind: 'element'; id: string }
  | { kind: 'rest' };

interface SelectionState {
  wanted: Selection | null;
  layer: string | null;
  placing: BandKind | null;
}

/** What the person works on just now, and what is about to join the recipe. */
@Injectable()
export class SelectionStore {
  private readonly project = inject(OpenProject);
  /** What was chosen last, whether it still exists or not. */
  private readonly state = signalState<SelectionState>({ wanted: null, layer: null, placing: null });
  /** A kind of band that waits to be placed by a drag on the picture. */
  readonly placing = this.state.placing;
  /** The stroke that is being drawn: it joins the recipe when the hand lifts. */
  readonly liveStroke = signal<PackedStroke | null>(null);

  /** Id of the element whose field the tools speak of; null for the picture's own. */
  readonly layer = computed(() => {
    const wanted = this.state.layer();
    return this.project.recipe().elements.some(({ id }) => id === wanted) ? wanted : null;
  });
  /** The focus of that layer; as what stands beside the picture shows it, and as the lines on the picture do. */
  readonly focus = computed(() => focusOf(this.project.recipe(), this.layer()));
  readonly calmFocus = computed(() => focusOf(this.project.calmRecipe(), this.layer()));
  readonly seenFocus = computed(() => focusOf(this.project.seenRecipe(), this.layer()));
  /** Where it stands in the recipe. */
  readonly focusPath = computed(() => focusPath(this.project.recipe(), this.layer()));

  /** The chosen thing while it exists, else the first band. */
  readonly chosen = computed<Selection>(
    () => {
      const wanted = this.state.wanted();
      const layer = this.layer();
      const { depthMap, mattes } = this.project.recipe().focus;
      const { bands } = this.focus();
      const own: Selection = bands[0] ? { kind: 'band', id: bands[0].id } : { kind: 'rest' };
      const first: Selection = layer === null ? own : { kind: 'element', id: layer };
      switch (wanted?.kind) {
        case 'band':
          return bands.some((band) => band.id === wanted.id) ? wanted : first;
        case 'matte':
          return mattes.some((matte) => matte.id === wanted.id) ? wanted : first;
        case 'depth':
          return depthMap ? wanted : first;
        case 'element':
          return wanted.id === layer ? wanted : first;
        case undefined:
          return first;
        default:
          return wanted!;
      }
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );

  /** The band in hand, or null where something else is. */
  readonly band = computed(() => this.bandOf(this.project.recipe()));

  /** The band in hand as the picture on the stage has it. */
  readonly seenBand = computed(() => this.bandOf(this.project.seenRecipe()));

  /** The band in hand as what stands beside the picture shows it. */
  readonly calmBand = computed(() => this.bandOf(this.project.calmRecipe()));

  /** The band whose profile is shown: the one in hand, else the first that is on. */
  readonly profileBand = computed<Band | null>(() => {
    return this.calmBand() ?? this.calmFocus().bands.find((band) => band.on) ?? null;
  });

  private bandOf(recipe: Recipe): Band | null {
    const chosen = this.chosen();
    if (chosen.kind !== 'band') return null;
    return bandIn(recipe, chosen.id);
  }

  choose(chosen: Selection): void {
    patchState(this.state, ({ layer }) => ({
      wanted: chosen,
      layer: this.layerOf(chosen, layer),
      placing: null,
    }));
  }

  /** Waits for a band of a kind to be placed, or for none. */
  place(placing: BandKind | null): void {
    patchState(this.state, { placing });
  }

  /** Has the tools speak of the picture's own field. */
  choosePicture(): void {
    patchState(this.state, { wanted: null, layer: null, placing: null });
  }

  private layerOf(chosen: Selection, layer: string | null): string | null {
    switch (chosen.kind) {
      case 'element':
        return chosen.id;
      case 'band':
        return ownerOfBand(this.project.recipe(), chosen.id)?.layer ?? layer;
      case 'soundings':
      case 'rest':
        return layer;
      default:
        return null;
    }
  }

  chooseBand(id: string): void {
    this.choose({ kind: 'band', id });
  }
}

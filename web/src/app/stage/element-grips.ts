import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import {
  type Element,
  type LayerPlace,
  diagonal,
  elementPlace,
  toOriginFrame,
  isIdentityCarry,
  layerCorners,
} from '@hazy-lens/core';
import { elementName } from '../model/elements';
import { ProjectAssets } from '../project/session/project-assets';
import { OpenProject } from '../project/session/open-project';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { SelectionStore } from '../workspace/selection-store';
import { Viewport } from '../workspace/viewport';
import { footPath } from './foot-path';
import { type Spot, normalAngle, dragRotation } from './handles/handles';
import { PointGrip } from './point-grip';
import { type StageDrag, handOf } from './stage-drag';
import { stageWords } from '../words/stage';

/** Length of the two strokes of a corner, and how far the turning grip stands above the upper edge, in pixels of the stage. */
const CORNER = 14;
const ABOVE = 26;
const [MIN_WIDTH, MAX_WIDTH] = [0.01, 4];

/** An element on the picture, as photographs lie in an album: held at its corners, turned by a tab above, with its foot. */
@Component({
  selector: 'hl-element-grips',
  imports: [Drag, PointGrip],
  template: `
    @if (shown(); as one) {
      <svg aria-hidden="true">
        <polygon class="casing" [attr.points]="one.outline" />
        <polygon [attr.points]="one.outline" />
        @for (corner of one.corners; track corner.index) {
          <path class="casing corner" [attr.d]="corner.path" />
          <path class="corner" [attr.d]="corner.path" />
        }
        @if (one.foot; as foot) {
          <path class="casing" [attr.d]="foot.path" />
          <path [attr.d]="foot.path" />
        }
      </svg>
      @for (corner of one.corners; track corner.index) {
        <div
          class="hold"
          role="slider"
          tabindex="0"
          [attr.aria-label]="words.widthOfCorner(one.name, corner.index + 1)"
          aria-valuemin="1"
          [attr.aria-valuemax]="one.most"
          [attr.aria-valuenow]="one.width"
          [attr.aria-valuetext]="one.width + ' px'"
          [attr.data-corner]="corner.index"
          [style.transform]="'translate(' + corner.x + 'px, ' + corner.y + 'px)'"
          [hlDrag]="graspCorner"
          (keydown)="sizeKey($event)"
        ></div>
      }
      <div
        class="hold middle"
        role="slider"
        tabindex="0"
        aria-valuemin="-100"
        aria-valuemax="200"
        [attr.aria-label]="words.placeOf(one.name)"
        [attr.aria-valuenow]="one.across"
        [attr.aria-valuetext]="one.says"
        [style.transform]="'translate(' + one.middle.x + 'px, ' + one.middle.y + 'px)'"
        [hlDrag]="graspMiddle"
        (keydown)="moveKey($event)"
      ></div>
      <hl-point-grip
        [label]="words.rotationOf(one.name)"
        [value]="one.turn"
        [range]="[-180, 180]"
        [says]="one.turn.toFixed(1) + '°'"
        [at]="one.turner"
        [turns]="true"
        [grasp]="graspTurn"
        (stepped)="turnBy($event.x - $event.y)"
      />
      @if (one.foot; as foot) {
        <hl-point-grip
          [label]="words.footOf(one.name)"
          [value]="foot.down"
          [range]="[0, 100]"
          [says]="'foot, ' + foot.down.toFixed(0) + ' % down'"
          [at]="foot"
          [grasp]="graspFoot"
          (stepped)="stepFoot($event)"
        />
      }
    }
  `,
  styles: `
    :host {
      pointer-events: none;
    }
    svg {
      position: absolute;
      inset: 0;
      width: 100%;
      height: 100%;
      overflow: hidden;
    }
    polygon,
    path {
      fill: none;
      stroke: #fff;
      stroke-width: 1;
    }
    .corner {
      stroke-width: 3;
    }
    .casing {
      stroke: rgb(12 14 20 / 0.7);
      stroke-width: 3;
    }
    .casing.corner {
      stroke-width: 5.5;
    }
    .hold {
      position: absolute;
      left: 0;
      top: 0;
      width: 26px;
      height: 26px;
      margin: -13px 0 0 -13px;
      border-radius: 4px;
      pointer-events: auto;
      cursor: nwse-resize;
      touch-action: none;
    }
    .middle {
      cursor: move;
    }
    :host(.quiet) .hold {
      pointer-events: none;
    }
  `,
  host: { '[class.quiet]': 'selection.placing() !== null' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ElementGrips {
  protected readonly words = stageWords;
  private readonly project = inject(OpenProject);
  protected readonly selection = inject(SelectionStore);
  private readonly viewport = inject(Viewport);
  private readonly projectAssets = inject(ProjectAssets);

  private readonly element = computed(() => this.elementOf(this.selection.layer()));

  private elementOf(id: string | null): Element | null {
    return this.project.seenRecipe().elements.find((one) => one.id === id) ?? null;
  }

  /** Where an element lies on the picture in view, and its corners; null while its picture is not there. */
  private placed(element: Element): { place: LayerPlace; corners: Spot[] } | null {
    const image = this.projectAssets.images().get(element.image)?.levels[0];
    if (!image) return null;
    const size = this.project.size();
    const place = elementPlace(element, size);
    return { place, corners: layerCorners(place, size, image).map(([x, y]) => ({ x, y })) };
  }

  protected readonly shown = computed(() => {
    const element = this.element();
    const placed = element?.on ? this.placed(element) : null;
    if (!element || !placed) return null;
    const size = this.project.size();
    const spots = placed.corners.map(({ x, y }) => this.viewport.toStage(x, y));
    const { elements } = this.project.seenRecipe();
    return {
      name: elementName(elements, elements.indexOf(element)),
      outline: spots.map(({ x, y }) => `${x},${y}`).join(' '),
      corners: spots.map((spot, index) => ({
        ...spot,
        index,
        path: cornerPath(spots[(index + 3) % 4]!, spot, spots[(index + 1) % 4]!),
      })),
      turner: above(spots),
      middle: { x: (spots[0]!.x + spots[2]!.x) / 2, y: (spots[0]!.y + spots[2]!.y) / 2 },
      across: Math.round(100 * element.centre[0]),
      says: stageWords.acrossDown(Math.round(100 * element.centre[0]), Math.round(100 * element.centre[1])),
      turn: normalAngle(element.turn),
      width: Math.round(placed.place.width * diagonal(size)),
      most: Math.round(MAX_WIDTH * diagonal(size)),
      foot: element.foot && this.footMark(element.foot),
    };
  });

  private footMark([fx, fy]: readonly [number, number]): Spot & { path: string; down: number } {
    const { width, height } = this.project.size();
    const { x, y } = this.viewport.toStage(fx * width, fy * height);
    return { x, y, path: footPath({ x, y }), down: fy * 100 };
  }

  /** The element under a place of the picture, the nearest first; the one in hand before all others. */
  hit(at: Spot): Element | null {
    const { elements } = this.project.recipe();
    const own = this.selection.layer();
    const list = [...elements.filter(({ id }) => id === own), ...[...elements].reverse()];
    return (
      list.find((element) => {
        const placed = element.on ? this.placed(element) : null;
        return placed !== null && isInside(at, placed.corners);
      }) ?? null
    );
  }

  /** A hand that moves an element. */
  moveFrom(element: Element, from: Spot): StageDrag {
    const { width, height } = this.project.size();
    return this.dragOf(element, stageWords.placeOfElement, (one, to) => {
      const home = this.home(element);
      const [a, b] = [home(from), home(to)];
      one.centre = [
        within(element.centre[0] + (b.x - a.x) / width),
        within(element.centre[1] + (b.y - a.y) / height),
      ];
    });
  }

  /** Where a place of the frame in view lies on the frame that an element was put on. */
  private home({ carry }: Element): (at: Spot) => Spot {
    if (isIdentityCarry(carry)) return (at) => at;
    const size = this.project.size();
    const back = toOriginFrame(carry, size);
    return ({ x, y }) => {
      const [u, v] = back([x / size.width, y / size.height]);
      return { x: u * size.width, y: v * size.height };
    };
  }

  private dragOf(
    { id }: Element,
    label: string,
    change: (one: Element, to: Spot, event: PointerEvent) => void,
  ): StageDrag {
    const gesture = crypto.randomUUID();
    return {
      move: (to, event) =>
        this.project.edit(
          label,
          ({ elements }) => elements.filter((one) => one.id === id).forEach((one) => change(one, to, event)),
          gesture,
        ),
      cancel: () => this.project.abandon(gesture),
    };
  }

  private readonly current = (): Element | null =>
    this.project.recipe().elements.find(({ id }) => id === this.selection.layer()) ?? null;

  protected readonly graspCorner: DragStart = (event) => {
    const element = this.current();
    if (event.button !== 0 || !element) return null;
    const { x, y } = this.centreOf(element);
    const from = this.viewport.pictureAt(event);
    const far = Math.max(1, Math.hypot(from.x - x, from.y - y));
    const drag = this.dragOf(element, stageWords.widthOfElement, (one, to) => {
      one.width = heldWidth((element.width * Math.hypot(to.x - x, to.y - y)) / far);
    });
    return handOf(drag, this.viewport);
  };

  protected readonly graspMiddle: DragStart = (event) => {
    const element = this.current();
    if (event.button !== 0 || !element) return null;
    return handOf(this.moveFrom(element, this.viewport.pictureAt(event)), this.viewport);
  };

  protected readonly graspTurn: DragStart = (event) => {
    const element = this.current();
    if (event.button !== 0 || !element) return null;
    const centre = this.centreOf(element);
    const from = this.viewport.pictureAt(event);
    const drag = this.dragOf(element, stageWords.rotationOfElement, (one, to, { shiftKey }) => {
      one.turn = dragRotation(element.turn, centre, {
        grip: 'turn',
        from,
        to,
        linked: false,
        stepped: shiftKey,
      });
    });
    return handOf(drag, this.viewport);
  };

  protected readonly graspFoot: DragStart = (event) => {
    const element = this.current();
    if (event.button !== 0 || !element) return null;
    const { width, height } = this.project.size();
    const drag = this.dragOf(element, stageWords.footOfElement, (one, { x, y }) => {
      one.foot = [within(x / width), within(y / height)];
    });
    return handOf(drag, this.viewport);
  };

  private centreOf(element: Element): Spot {
    const { width, height } = this.project.size();
    const { centre } = elementPlace(element, this.project.size());
    return { x: centre[0] * width, y: centre[1] * height };
  }

  /** Arrow keys on a corner: one pixel of width; up and right make it larger. */
  protected sizeKey(event: KeyboardEvent): void {
    const step = arrowOf(event);
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const by = ((step[0] - step[1]) * stepMultiplier(event)) / this.project.diagonal();
    this.change(stageWords.widthOfElement, (one) => (one.width = heldWidth(one.width + by)));
  }

  protected turnBy(degrees: number): void {
    this.change(stageWords.rotationOfElement, (one) => (one.turn = normalAngle(one.turn + degrees)));
  }

  protected stepFoot({ x, y }: Spot): void {
    const { width, height } = this.project.size();
    this.change(stageWords.footOfElement, (one) => {
      if (one.foot) one.foot = [within(one.foot[0] + x / width), within(one.foot[1] + y / height)];
    });
  }

  /** Arrow keys move the element by pixels of the picture. */
  protected moveKey(event: KeyboardEvent): void {
    const step = arrowOf(event);
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const { width, height } = this.project.size();
    const [x, y] = step.map((one) => one * stepMultiplier(event)) as [number, number];
    this.change(stageWords.placeOfElement, (one) => {
      one.centre = [within(one.centre[0] + x / width), within(one.centre[1] + y / height)];
    });
  }

  private change(label: string, change: (one: Element) => void): void {
    const id = this.selection.layer();
    this.project.edit(label, ({ elements }) =>
      elements.filter((one) => one.id === id).forEach((one) => void change(one)),
    );
  }
}

const heldWidth = (width: number): number => Math.min(MAX_WIDTH, Math.max(MIN_WIDTH, width));
const within = (v: number): number => Math.min(2, Math.max(-1, v));

/** The two strokes of a corner, along both of its edges. */
function cornerPath(before: Spot, corner: Spot, after: Spot): string {
  const towards = (to: Spot): string => {
    const far = Math.hypot(to.x - corner.x, to.y - corner.y);
    const share = far === 0 ? 0 : Math.min(0.4, CORNER / far);
    return `${corner.x + (to.x - corner.x) * share} ${corner.y + (to.y - corner.y) * share}`;
  };
  return `M${towards(before)}L${corner.x} ${corner.y}L${towards(after)}`;
}

/** Above the middle of the upper edge, away from the middle. */
function above([a, b, c]: readonly Spot[]): Spot {
  const middle = { x: (a!.x + b!.x) / 2, y: (a!.y + b!.y) / 2 };
  const up = { x: b!.x - c!.x, y: b!.y - c!.y };
  const far = Math.max(1, Math.hypot(up.x, up.y));
  return { x: middle.x + (up.x / far) * ABOVE, y: middle.y + (up.y / far) * ABOVE };
}

/** True for a point inside a convex outline, whichever way round that goes. */
function isInside(at: Spot, corners: readonly Spot[]): boolean {
  const sides = corners.map((a, i) => {
    const b = corners[(i + 1) % corners.length]!;
    return Math.sign((b.x - a.x) * (at.y - a.y) - (b.y - a.y) * (at.x - a.x));
  });
  return sides.every((side) => side >= 0) || sides.every((side) => side <= 0);
}

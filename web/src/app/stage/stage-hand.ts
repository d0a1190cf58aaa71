import { Injectable, computed, inject, signal } from '@angular/core';
import { diagonal, toCrop, toPicture } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import type { DragStart } from '../ui/drag';
import { SelectionStore } from '../workspace/selection-store';
import { ToolStore } from '../workspace/tool-store';
import { ViewStore } from '../workspace/view-store';
import { Viewport } from '../workspace/viewport';
import { WhitePicker } from '../workspace/white-picker';
import type { BandHandles } from './band-handles';
import type { ElementGrips } from './element-grips';
import type { Spot } from './handles/handles';
import { HuePicker } from './hue-picker';
import { MendBrush } from './mend-brush';
import { panHand, wheelZoom } from './pan';
import { type StageDrag, handOf } from './stage-drag';
import { StagePicture } from './stage-picture';
import { StageTools } from './stage-tools';

/** Pixels each way around the clicked one whose mean is taken for grey. */
const GREY_REACH_PX = 2;
/** Movement of a finger below this counts as a tap. */
const MIN_PAN_PX = 6;
const KEY_PAN_PX = 64;

/** What is drawn on the picture to be taken hold of; each undefined where it is not shown. */
export interface StageGrips {
  bands(): BandHandles | undefined;
  elements(): ElementGrips | undefined;
}

/** The hand on the picture, of a pointer or of the keyboard: what it takes hold of, and how it looks. */
@Injectable()
export class StageHand {
  private readonly project = inject(OpenProject);
  private readonly viewStore = inject(ViewStore);
  private readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  private readonly viewport = inject(Viewport);
  private readonly picture = inject(StagePicture);
  private readonly tools = inject(StageTools);
  private readonly huePicker = inject(HuePicker);
  private readonly whitePicker = inject(WhitePicker);
  private readonly mendBrush = inject(MendBrush);
  /** Set by the stage. */
  grips: StageGrips = { bands: () => undefined, elements: () => undefined };
  /** As the style sheet's `cursor` has it. */
  readonly cursor = signal('');

  readonly showsHandles = computed(
    () =>
      this.viewStore.step() === 'focus' && this.project.isOpen() && this.viewStore.comparison() !== 'before',
  );

  /** In black and white the hand makes colours lighter and darker. */
  private readonly picksColours = computed(() => {
    const { on, mono } = this.project.recipe().colour;
    return on && mono.on && this.viewStore.step() === 'colour' && this.viewStore.comparison() !== 'before';
  });

  wheel(event: WheelEvent): void {
    event.preventDefault();
    const { kind } = this.selection.chosen();
    if (event.altKey && (kind === 'brush' || kind === 'matte')) {
      this.settings.resize(kind === 'brush' ? 'brush' : 'scribble', wheelZoom(event));
      return;
    }
    const at = this.viewport.fromPointer(event);
    this.viewport.zoomTo(this.viewport.view().zoom * wheelZoom(event), at.x, at.y);
  }

  /** A hand on the picture itself: it moves the picture, a line of a band, or works with the tool in hand. */
  readonly grasp: DragStart = (event) => {
    if (event.button === 1 || (event.button === 0 && this.viewStore.panning()))
      return panHand(this.viewport, event);
    if (event.button !== 0) return null;
    if (this.whitePicker.isReady()) {
      this.pickWhite(this.viewport.fromPointer(event));
      return null;
    }
    if (this.picksColours()) {
      const light = this.picture.lightAt(this.viewport.fromPointer(event), 0);
      return light && this.huePicker.handOn(light, event);
    }
    const drag = this.startDrag(event);
    if (drag) return handOf(drag, this.viewport);
    // A finger has no wheel and no middle button: where nothing takes it, it pans.
    return event.pointerType === 'touch' ? panHand(this.viewport, event, MIN_PAN_PX) : null;
  };

  private pickWhite(at: Spot): void {
    const light = this.picture.lightAt(at, GREY_REACH_PX);
    const primaries = this.picture.before?.colorSpace === 'display-p3' ? 'display-p3' : 'srgb';
    if (light) this.whitePicker.pick(light, primaries);
  }

  private startDrag(event: PointerEvent): StageDrag | null {
    const at = this.viewport.pictureAt(event);
    if (this.mendBrush.isReady()) return this.mendBrush.start(at);
    if (!this.showsHandles()) return null;
    const handles = this.grips.bands();
    if (!this.tools.takesAll && handles && !this.viewStore.handlesHidden()) {
      const hit = handles.hit(this.viewport.fromPointer(event));
      if (hit && 'grip' in hit) return handles.dragOf(hit.grip, at);
      if (hit) {
        this.selection.chooseBand(hit.band.id);
        return null;
      }
    }
    const moved = this.takeElement(at);
    if (moved) return moved;
    return this.tools.start(at, event);
  }

  /** A hand on an element moves it, and takes it in hand where another is. */
  private takeElement(at: Spot): StageDrag | null {
    const { kind } = this.selection.chosen();
    const isFree = kind === 'element' || kind === 'band' || kind === 'rest';
    const grips = this.grips.elements();
    if (!isFree || this.tools.takesAll || !grips || this.viewStore.handlesHidden()) return null;
    const element = grips.hit(at);
    if (!element) return null;
    if (kind !== 'element' || this.selection.layer() !== element.id) {
      this.selection.choose({ kind: 'element', id: element.id });
      return null;
    }
    return grips.moveFrom(element, at);
  }

  /** The reading and the brush's ring follow the hand; a second finger is none. */
  point(event: PointerEvent): void {
    if (!event.isPrimary) return;
    this.viewport.pointAt(this.viewport.pictureAt(event), false);
    if (event.buttons === 0) this.cursor.set(this.cursorFor(event));
  }

  private cursorFor(event: PointerEvent): string {
    if (this.whitePicker.isReady()) return 'crosshair';
    if (this.picksColours()) return 'ns-resize';
    if (this.mendBrush.isReady()) return 'none';
    if (!this.showsHandles() || !(event.target as Element).closest('.picture')) return '';
    const { kind } = this.selection.chosen();
    if (this.selection.placing()) return 'crosshair';
    if (kind === 'brush' || kind === 'matte') return 'none';
    const hit = this.viewStore.handlesHidden()
      ? null
      : this.grips.bands()?.hit(this.viewport.fromPointer(event));
    if (hit) return 'grip' in hit ? 'move' : 'pointer';
    return kind === 'soundings' || kind === 'depth' ? 'crosshair' : '';
  }

  /** The keyboard's hand: arrow keys move it over the picture, Enter puts it down. */
  key(event: KeyboardEvent): void {
    const step = arrowOf(event);
    const sheet = this.viewport.sheet();
    const { width, height } = sheet;
    const pointer = this.viewport.pointer();
    const [x, y] = pointer ? toCrop(sheet, [pointer.x, pointer.y]) : [width / 2, height / 2];
    const put = (sx: number, sy: number): { x: number; y: number } => {
      const [px, py] = toPicture(sheet, [
        Math.min(width, Math.max(0, sx)),
        Math.min(height, Math.max(0, sy)),
      ]);
      return { x: px, y: py };
    };
    const at = put(x, y);
    if (step && event.shiftKey) {
      this.viewport.pan(-step[0] * KEY_PAN_PX, -step[1] * KEY_PAN_PX);
    } else if (step) {
      const by = stepMultiplier(event) * (diagonal(sheet) / 200);
      this.viewport.pointAt(put(x + step[0] * by, y + step[1] * by), true);
    } else if (event.key === 'Enter' && this.mendBrush.isReady()) {
      this.mendBrush.start(at)?.end?.();
    } else if (event.key === 'Enter' && this.whitePicker.isReady()) {
      this.pickWhite(this.viewport.toStage(at.x, at.y));
    } else if (event.key === 'Enter' && this.showsHandles()) {
      this.viewport.pointAt(at, true);
      this.tools.start(at, event)?.end?.();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
}

import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { cropGeometry, toPicture } from '@hazy-lens/core';
import { type CropHandle, cornersOf, levelTurn, moveCrop, resizeCrop, rotateCrop } from '../model/crop';
import { OpenProject } from '../project/session/open-project';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { CropTool } from '../workspace/crop-tool';
import { Viewport } from '../workspace/viewport';
import { normalAngle } from './handles/handles';
import { stageWords } from '../words/stage';

const PULLS: readonly { name: string; pull: CropHandle }[] = [
  { name: stageWords.leftEdge, pull: [-1, 0] },
  { name: stageWords.rightEdge, pull: [1, 0] },
  { name: stageWords.topEdge, pull: [0, -1] },
  { name: stageWords.bottomEdge, pull: [0, 1] },
  { name: stageWords.topLeftCorner, pull: [-1, -1] },
  { name: stageWords.topRightCorner, pull: [1, -1] },
  { name: stageWords.bottomLeftCorner, pull: [-1, 1] },
  { name: stageWords.bottomRightCorner, pull: [1, 1] },
];
/** How far above the window the tab stands that turns it, in pixels of the stage. */
const TURN_AWAY = 30;
/** Lines that show what is level while the window turns. */
const LEVELS = 5;
/** A line that is drawn shorter says nothing. */
const MIN_LINE_PX = 12;

interface Spot {
  x: number;
  y: number;
}
const path = (spots: readonly Spot[]): string => `M${spots.map(({ x, y }) => `${x} ${y}`).join('L')}Z`;

/** The crop as a sheet of tracing paper over the picture, with a window in it that can be moved, sized and turned. */
@Component({
  selector: 'hl-crop-window',
  imports: [Drag],
  template: `
    <svg aria-hidden="true">
      <path class="paper" [attr.d]="paper()" fill-rule="evenodd" />
      <path class="casing" [attr.d]="window()" />
      <path class="edge" [attr.d]="window()" />
      @if (tool.turning()) {
        @for (line of level(); track $index) {
          <path class="level" [attr.d]="line" />
        }
      }
      <path class="casing" [attr.d]="stem()" />
      <path class="edge" [attr.d]="stem()" />
      @if (line(); as drawn) {
        <path class="casing" [attr.d]="drawn" />
        <path class="edge" [attr.d]="drawn" />
      }
    </svg>
    <div
      class="inside"
      [class.levels]="tool.levels()"
      [style.clip-path]="tool.levels() ? 'none' : inside()"
      role="group"
      tabindex="0"
      [attr.aria-label]="words.cropWindowArrowKeysMove(says())"
      [hlDrag]="tool.levels() ? drawLevel : move"
      (keydown)="moveKey($event)"
    ></div>
    @for (tab of tabs(); track tab.name) {
      <div
        class="pull"
        role="slider"
        tabindex="0"
        [attr.aria-label]="words.ofTheCrop(tab.name)"
        aria-valuemin="1"
        [attr.aria-valuemax]="tab.most"
        [attr.aria-valuenow]="tab.value"
        [attr.aria-valuetext]="says()"
        [attr.data-pull]="tab.name"
        [style.transform]="'translate(' + tab.x + 'px, ' + tab.y + 'px) rotate(' + tab.turn + 'deg)'"
        [style.cursor]="tab.cursor"
        [hlDrag]="tab.grasp"
        (keydown)="pullKey($event, tab.pull)"
        (focus)="focused.set(tab.name)"
        (blur)="focused.set(null)"
      >
        <span class="tab" [class.corner]="tab.isCorner"></span>
      </div>
    }
    <div
      class="pull round"
      role="slider"
      tabindex="0"
      [aria-label]="words.cropRotation"
      aria-valuemin="-180"
      aria-valuemax="180"
      [attr.aria-valuenow]="tool.crop().turn.toFixed(1)"
      [attr.aria-valuetext]="turnText()"
      data-pull="turn"
      [style.transform]="'translate(' + turnTab().x + 'px, ' + turnTab().y + 'px)'"
      [hlDrag]="turn"
      (keydown)="turnKey($event)"
      (focus)="focused.set('turn')"
      (blur)="focused.set(null)"
    >
      <span class="tab"></span>
    </div>
    @if (focused(); as name) {
      <span class="says" [style.left.px]="saysAt().x" [style.top.px]="saysAt().y">{{
        name === 'turn' ? turnText() : says()
      }}</span>
    }
  `,
  styleUrls: ['./mark.scss', './crop-window.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CropWindow {
  protected readonly words = stageWords;
  private readonly project = inject(OpenProject);
  private readonly viewport = inject(Viewport);
  protected readonly tool = inject(CropTool);
  protected readonly focused = signal<string | null>(null);
  /** The line that is being drawn to become level, on the stage. */
  protected readonly line = signal<string | null>(null);

  private readonly corners = computed<Spot[]>(() =>
    cornersOf(this.tool.crop(), this.project.size()).map(([x, y]) => this.viewport.toStage(x, y)),
  );
  protected readonly window = computed(() => path(this.corners()));
  protected readonly paper = computed(() => {
    const { width, height } = this.project.size();
    const rim = [[0, 0], [width, 0], [width, height], [0, height]] as const; // prettier-ignore
    return path(rim.map(([x, y]) => this.viewport.toStage(x, y))) + this.window();
  });
  protected readonly inside = computed(
    () =>
      `polygon(${this.corners()
        .map(({ x, y }) => `${x}px ${y}px`)
        .join()})`,
  );

  private at(u: number, v: number): Spot {
    const [a, b, c, d] = this.corners() as [Spot, Spot, Spot, Spot];
    const mix = (p: number, q: number, r: number, s: number): number =>
      p * (1 - u) * (1 - v) + q * u * (1 - v) + r * u * v + s * (1 - u) * v;
    return { x: mix(a.x, b.x, c.x, d.x), y: mix(a.y, b.y, c.y, d.y) };
  }

  protected readonly tabs = computed(() => {
    const { turn } = this.tool.crop();
    const sheet = this.sheet();
    return PULLS.map(({ name, pull }, i) => {
      const [across, down] = pull;
      const isUpright = down === 0;
      return {
        name,
        pull,
        isCorner: across !== 0 && down !== 0,
        ...this.at((across + 1) / 2, (down + 1) / 2),
        turn: turn + (down === 0 ? 90 : 0),
        value: isUpright ? sheet.width : sheet.height,
        most: isUpright ? sheet.picture.width : sheet.picture.height,
        cursor: cursorOf((Math.atan2(down, across) * 180) / Math.PI + turn),
        grasp: this.grasps[i]!,
      };
    });
  });
  /** From the middle of the window's upper edge outwards. */
  private readonly outwards = computed(() => {
    const [top, foot] = [this.at(0.5, 0), this.at(0.5, 1)];
    const length = Math.max(1, Math.hypot(top.x - foot.x, top.y - foot.y));
    return { x: (top.x - foot.x) / length, y: (top.y - foot.y) / length };
  });
  protected readonly turnTab = computed(() => {
    const [top, { x, y }] = [this.at(0.5, 0), this.outwards()];
    const { width, height } = this.viewport.stage();
    const at = { x: top.x + x * TURN_AWAY, y: top.y + y * TURN_AWAY };
    // Where there is no room above the window it hangs inside.
    const isOut = at.x < 8 || at.y < 8 || at.x > width - 8 || at.y > height - 8;
    return isOut ? { x: top.x - x * TURN_AWAY, y: top.y - y * TURN_AWAY } : at;
  });
  protected readonly stem = computed(() => {
    const [top, tab] = [this.at(0.5, 0), this.turnTab()];
    return `M${top.x} ${top.y}L${tab.x} ${tab.y}`;
  });
  protected readonly level = computed(() =>
    Array.from({ length: LEVELS }, (_, i) => {
      const v = (i + 1) / (LEVELS + 1);
      const [from, to] = [this.at(0, v), this.at(1, v)];
      return `M${from.x} ${from.y}L${to.x} ${to.y}`;
    }),
  );
  protected readonly saysAt = computed(() => this.at(0.5, 0.5));
  private readonly sheet = computed(() => cropGeometry(this.tool.crop(), this.project.size()));
  protected readonly says = computed(() => `${this.sheet().width} × ${this.sheet().height} px`);
  protected readonly turnText = computed(() => `${this.tool.crop().turn.toFixed(1)}°`);

  private readonly grasps = PULLS.map(({ name, pull }): DragStart => {
    return (event) => {
      if (event.button !== 0) return null;
      const [start, from, gesture] = [this.tool.current, this.viewport.pictureAt(event), crypto.randomUUID()];
      return {
        move: (next) => {
          const to = this.viewport.pictureAt(next);
          this.put(name, resizeCrop(start, this.project.size(), pull, to.x - from.x, to.y - from.y, this.tool.ratio()), gesture); // prettier-ignore
        },
        cancel: () => this.project.abandon(gesture),
      };
    };
  });

  protected readonly move: DragStart = (event) => {
    if (event.button !== 0) return null;
    const [start, from, gesture] = [this.tool.current, this.viewport.pictureAt(event), crypto.randomUUID()];
    return {
      move: (next) => {
        const to = this.viewport.pictureAt(next);
        this.tool.edit(
          stageWords.moveCrop,
          moveCrop(start, this.project.size(), to.x - from.x, to.y - from.y),
          gesture,
        );
      },
      cancel: () => this.project.abandon(gesture),
    };
  };

  protected readonly turn: DragStart = (event) => {
    if (event.button !== 0) return null;
    const [start, gesture] = [this.tool.current, crypto.randomUUID()];
    const middle = toPicture(this.sheet(), [this.sheet().width / 2, this.sheet().height / 2]);
    const angleOf = (one: PointerEvent): number => {
      const { x, y } = this.viewport.pictureAt(one);
      return (Math.atan2(y - middle[1], x - middle[0]) * 180) / Math.PI;
    };
    const from = angleOf(event);
    this.tool.set({ turning: true });
    return {
      move: (next) => {
        const turn = normalAngle(start.turn + angleOf(next) - from);
        const stepped = next.shiftKey ? Math.round(turn / 15) * 15 : turn;
        this.tool.edit(stageWords.rotateCrop, rotateCrop(start, this.project.size(), stepped), gesture);
      },
      end: () => this.tool.set({ turning: false }),
      cancel: () => {
        this.tool.set({ turning: false });
        this.project.abandon(gesture);
      },
    };
  };

  /** A line along what should be level or upright: the window turns so that it is. */
  protected readonly drawLevel: DragStart = (event) => {
    if (event.button !== 0) return null;
    const [from, begun] = [this.viewport.pictureAt(event), this.viewport.fromPointer(event)];
    let last = event;
    return {
      move: (next) => {
        last = next;
        const at = this.viewport.fromPointer(next);
        this.line.set(`M${begun.x} ${begun.y}L${at.x} ${at.y}`);
      },
      end: () => {
        this.line.set(null);
        const [to, ended] = [this.viewport.pictureAt(last), this.viewport.fromPointer(last)];
        if (Math.hypot(ended.x - begun.x, ended.y - begun.y) < MIN_LINE_PX) return;
        this.tool.set({ levels: false });
        const turn = levelTurn([from.x, from.y], [to.x, to.y]);
        this.tool.edit('level', rotateCrop(this.tool.current, this.project.size(), turn));
      },
      cancel: () => this.line.set(null),
    };
  };

  private put(name: string, crop: ReturnType<typeof moveCrop>, gesture: string | null): void {
    this.tool.edit(stageWords.ofTheCrop(name.toLowerCase()), crop, gesture);
  }

  protected moveKey(event: KeyboardEvent): void {
    const step = this.stepOf(event);
    if (step) this.tool.edit(stageWords.moveCrop, moveCrop(this.tool.current, this.project.size(), ...step));
  }

  protected pullKey(event: KeyboardEvent, pull: CropHandle): void {
    const step = this.stepOf(event);
    if (!step) return;
    const { name } = PULLS.find((one) => one.pull === pull)!;
    this.put(
      name,
      resizeCrop(this.tool.current, this.project.size(), pull, ...step, this.tool.ratio()),
      null,
    );
  }

  protected turnKey(event: KeyboardEvent): void {
    const step = this.stepOf(event);
    if (!step) return;
    // Up and right turn clockwise, by a tenth of a degree.
    const turn = normalAngle(this.tool.current.turn + (step[0] - step[1]) / 10);
    this.tool.edit(stageWords.rotateCrop, rotateCrop(this.tool.current, this.project.size(), turn));
  }

  private stepOf(event: KeyboardEvent): [number, number] | null {
    const step = arrowOf(event);
    if (!step) return null;
    event.preventDefault();
    event.stopPropagation();
    const by = stepMultiplier(event);
    return [step[0] * by, step[1] * by];
  }
}

/** The system's pointer for a pull in a direction, in degrees of the stage. */
function cursorOf(deg: number): string {
  const eighth = ((Math.round(deg / 45) % 4) + 4) % 4;
  return ['ew-resize', 'nwse-resize', 'ns-resize', 'nesw-resize'][eighth]!;
}

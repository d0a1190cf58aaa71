import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { type Point, type Recipe, diagonal, toPicture } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { Viewport } from '../workspace/viewport';
import type { DragStart } from '../ui/drag';
import { normalAngle } from './handles/handles';
import type { Spot } from './handles/handles';
import { PointGrip } from './point-grip';
import { stageWords } from '../words/stage';

/** Half the line of a direction on the stage, at least. */
const MIN_HALF_PX = 70;
/** Distances from the centre at which its arcs and rays are drawn, in pixels of the stage. */
const RINGS = [56, 112, 168];
const RAYS = 12;
/** The pieces are drawn at least so long, as a share of the distance from the centre. */
const MIN_HALF_SHARE = 0.14;

/** The direction of a movement as a line to turn, or its centre as a mark to drag, on the picture. */
@Component({
  selector: 'hl-movement-mark',
  imports: [PointGrip],
  template: `
    <svg aria-hidden="true">
      <path class="casing" [attr.d]="mark().line" />
      <path [attr.d]="mark().line" />
    </svg>
    <hl-point-grip
      [label]="mark().grip.name"
      [turns]="kind() === 'motion'"
      [range]="[-360, 360]"
      [value]="mark().grip.value"
      [says]="mark().grip.text"
      [at]="mark().at"
      [grasp]="grasp"
      (stepped)="step($event)"
    />
  `,
  styleUrl: './mark.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MovementMark {
  private readonly project = inject(OpenProject);
  private readonly viewport = inject(Viewport);
  private readonly blur = computed(() => this.project.seenRecipe().blur);
  protected readonly kind = computed(() => this.blur().kind);

  protected readonly mark = computed(() => {
    const blur = this.blur();
    const size = this.project.size();
    if (blur.kind === 'motion') {
      const { width, height } = this.viewport.sheet();
      const { x, y } = this.viewport.fromSheet(width / 2, height / 2);
      const radius = blur.radius * diagonal(size) * this.viewport.view().zoom;
      const half = Math.max(MIN_HALF_PX, radius);
      const a = (this.viewport.angleOnStage(blur.motion.angle) * Math.PI) / 180;
      const [dx, dy] = [half * Math.cos(a), half * Math.sin(a)];
      const grip = {
        name: stageWords.angleOfTheMovement,
        value: blur.motion.angle,
        text: `${blur.motion.angle.toFixed(1)}°`,
      };
      return {
        line: `M${x - dx} ${y - dy}L${x + dx} ${y + dy}`,
        grip,
        at: { x: x + dx, y: y + dy },
      };
    }
    const [u, v] = centreOf(blur);
    const { x, y } = this.viewport.toStage(u * size.width, v * size.height);
    const text = `${(u * size.width).toFixed(0)}, ${(v * size.height).toFixed(0)} px`;
    const name = `Centre of the ${blur.kind}; arrow keys move`;
    const share = Math.max(MIN_HALF_SHARE, 2 * blur.radius);
    return {
      line: blur.kind === 'spin' ? arcs(x, y, share) : rays(x, y, share),
      grip: { name, value: u * 100, text },
      at: { x, y },
    };
  });

  protected readonly grasp: DragStart = (event) => {
    if (event.button !== 0) return null;
    const gesture = crypto.randomUUID();
    const [size, sheet] = [this.project.size(), this.viewport.sheet()];
    return {
      move: (next) => {
        const { x, y } = this.viewport.pictureAt(next);
        if (this.blur().kind === 'motion') {
          const [mx, my] = toPicture(sheet, [sheet.width / 2, sheet.height / 2]);
          const deg = (Math.atan2(y - my, x - mx) * 180) / Math.PI;
          this.turn(next.shiftKey ? Math.round(deg / 15) * 15 : deg, gesture);
        } else this.put([x / size.width, y / size.height], gesture);
      },
      cancel: () => this.project.abandon(gesture),
    };
  };

  protected step({ x, y }: Spot): void {
    const blur = this.blur();
    if (blur.kind === 'motion') return this.turn(blur.motion.angle + x - y, null);
    const { width, height } = this.project.size();
    const [u, v] = centreOf(blur);
    this.put([u + x / width, v + y / height], null);
  }

  private turn(angle: number, gesture: string | null): void {
    const edit = ({ blur }: Recipe): void => void (blur.motion.angle = normalAngle(angle));
    this.project.edit(stageWords.angleOfTheMovementName, edit, gesture);
  }

  private put(centre: Point, gesture: string | null): void {
    this.project.edit(
      stageWords.centreOfThe(this.blur().kind),
      ({ blur }) => {
        if (blur.kind === 'spin' || blur.kind === 'zoom') blur[blur.kind].centre = centre;
      },
      gesture,
    );
  }
}

function centreOf(blur: Recipe['blur']): Point {
  return blur.kind === 'spin' ? blur.spin.centre : blur.zoom.centre;
}

/** Pieces of arcs about a centre, each as long as what moves there. */
function arcs(x: number, y: number, half: number): string {
  const at = (far: number, a: number): string => `${x + far * Math.cos(a)} ${y + far * Math.sin(a)}`;
  return RINGS.flatMap((far) =>
    Array.from({ length: RAYS / 2 }, (_, i) => {
      const a = (2 * Math.PI * i) / (RAYS / 2);
      return `M${at(far, a - half)}A${far} ${far} 0 0 1 ${at(far, a + half)}`;
    }),
  ).join('');
}

/** Pieces of rays from a centre, each as long as what moves there. */
function rays(x: number, y: number, half: number): string {
  return Array.from({ length: RAYS }, (_, i) => {
    const a = (2 * Math.PI * i) / RAYS;
    const at = (far: number): string => `${x + far * Math.cos(a)} ${y + far * Math.sin(a)}`;
    const far = RINGS[1]!;
    return `M${at(far * (1 - half))}L${at(far * (1 + half))}`;
  }).join('');
}

import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { type Point, vignetteAxes, vignetteReach } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import type { DragStart } from '../ui/drag';
import { Viewport } from '../workspace/viewport';
import type { Spot } from './handles/handles';
import { PointGrip } from './point-grip';
import { stageWords } from '../words/stage';

/** The vignette on the picture: a line where it begins, one where it is full, and its middle as a tab to drag. */
@Component({
  selector: 'hl-vignette-mark',
  imports: [PointGrip],
  template: `
    <svg aria-hidden="true">
      @for (line of lines(); track $index) {
        <ellipse
          class="casing"
          [attr.cx]="middle().x"
          [attr.cy]="middle().y"
          [attr.rx]="line.rx"
          [attr.ry]="line.ry"
        />
        <ellipse [attr.cx]="middle().x" [attr.cy]="middle().y" [attr.rx]="line.rx" [attr.ry]="line.ry" />
      }
    </svg>
    <hl-point-grip
      [label]="words.centreOfTheVignetteArrow"
      [value]="look().centre[0] * 100"
      [says]="says()"
      [at]="middle()"
      [grasp]="grasp"
      (stepped)="step($event)"
    />
  `,
  styleUrl: './mark.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VignetteMark {
  protected readonly words = stageWords;
  private readonly project = inject(OpenProject);
  private readonly viewport = inject(Viewport);
  protected readonly look = computed(() => this.project.seenRecipe().finish.vignette);
  protected readonly middle = computed(() => {
    const { width, height } = this.project.sheet();
    const [u, v] = this.look().centre;
    return this.viewport.fromSheet(u * width, v * height);
  });
  protected readonly lines = computed(() => {
    const [rx, ry] = vignetteAxes(this.look(), this.project.sheet());
    const { zoom } = this.viewport.view();
    return vignetteReach(this.look()).map((way) => ({ rx: way * rx * zoom, ry: way * ry * zoom }));
  });
  protected readonly says = computed(() => {
    const { width, height } = this.project.sheet();
    const [u, v] = this.look().centre;
    return `${(u * width).toFixed(0)}, ${(v * height).toFixed(0)} px`;
  });

  protected readonly grasp: DragStart = (event) => {
    if (event.button !== 0) return null;
    const gesture = crypto.randomUUID();
    const { width, height } = this.project.sheet();
    return {
      move: (next) => {
        const { x, y } = this.viewport.sheetAt(next);
        this.put([x / width, y / height], gesture);
      },
      cancel: () => this.project.abandon(gesture),
    };
  };

  protected step({ x, y }: Spot): void {
    const { width, height } = this.project.sheet();
    const [u, v] = this.look().centre;
    this.put([u + x / width, v + y / height], null);
  }

  private put(centre: Point, gesture: string | null): void {
    this.project.edit(
      stageWords.centreOfTheVignette,
      ({ finish }) => void (finish.vignette.centre = centre),
      gesture,
    );
  }
}

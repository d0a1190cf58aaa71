import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { type Point, vignetteAxes, vignetteReach } from '@hazy-lens/core';
import { OpenProject } from '../project/open-project';
import { Drag, type Grasp } from '../ui/drag';
import { arrowOf, factor } from '../ui/keys';
import { StageView } from '../workspace/stage-view';

/** The vignette on the picture: a line where it begins, one where it is full, and its middle as a tab to drag. */
@Component({
  selector: 'hl-vignette-mark',
  imports: [Drag],
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
    <div
      class="grip"
      role="slider"
      tabindex="0"
      aria-label="Middle of the vignette, arrow keys move it"
      aria-valuemin="-100"
      aria-valuemax="200"
      [attr.aria-valuenow]="(look().centre[0] * 100).toFixed(0)"
      [attr.aria-valuetext]="says()"
      [style.transform]="'translate(' + middle().x + 'px, ' + middle().y + 'px)'"
      [hlDrag]="grasp"
      (keydown)="key($event)"
      (focus)="focused.set(true)"
      (blur)="focused.set(false)"
    >
      <span class="tab"></span>
      @if (focused()) {
        <span class="says">{{ says() }}</span>
      }
    </div>
  `,
  styleUrls: ['./band-handles.scss', './mark.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VignetteMark {
  private readonly project = inject(OpenProject);
  private readonly stageView = inject(StageView);
  protected readonly focused = signal(false);
  protected readonly look = computed(() => this.project.seenRecipe().finish.vignette);
  protected readonly middle = computed(() => {
    const { width, height } = this.project.sheet();
    const [u, v] = this.look().centre;
    return this.stageView.fromSheet(u * width, v * height);
  });
  protected readonly lines = computed(() => {
    const [rx, ry] = vignetteAxes(this.look(), this.project.sheet());
    const { zoom } = this.stageView.view();
    return vignetteReach(this.look()).map((way) => ({ rx: way * rx * zoom, ry: way * ry * zoom }));
  });
  protected readonly says = computed(() => {
    const { width, height } = this.project.sheet();
    const [u, v] = this.look().centre;
    return `${(u * width).toFixed(0)}, ${(v * height).toFixed(0)} px`;
  });

  protected readonly grasp: Grasp = (event) => {
    if (event.button !== 0) return null;
    const gesture = crypto.randomUUID();
    const { width, height } = this.project.sheet();
    return {
      move: (next) => {
        const { x, y } = this.stageView.sheetAt(next);
        this.put([x / width, y / height], gesture);
      },
      cancel: () => this.project.abandon(gesture),
    };
  };

  protected key(event: KeyboardEvent): void {
    const step = arrowOf(event);
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const { width, height } = this.project.sheet();
    const [u, v] = this.look().centre;
    const by = factor(event);
    this.put([u + (step[0] * by) / width, v + (step[1] * by) / height], null);
  }

  private put(centre: Point, gesture: string | null): void {
    this.project.edit(
      'middle of the vignette',
      ({ finish }) => void (finish.vignette.centre = centre),
      gesture,
    );
  }
}

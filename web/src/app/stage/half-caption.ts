import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Half } from '../model/trial';
import { OpenProject } from '../project/session/open-project';
import { SplitComparison } from '../workspace/split-comparison';
import { stageWords } from '../words/stage';

/** Says which blur a half of the stage has; takes it in hand, or keeps it. */
@Component({
  selector: 'hl-half-caption',
  imports: [MatButton],
  template: `
    <span class="name">{{ name() }}</span>
    @if (isInHand()) {
      <span class="quiet">{{ words.editing }}</span>
    } @else {
      <button matButton [attr.aria-label]="words.editHalf(where())" (click)="split.swap()">
        {{ words.edit }}
      </button>
    }
    <button matButton [attr.aria-label]="words.keepHalf(where())" (click)="split.keep(half())">
      {{ words.keepThis }}
    </button>
  `,
  styleUrl: './caption.scss',
  host: { role: 'group', '[attr.aria-label]': "where() + ' half'" },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HalfCaption {
  protected readonly words = stageWords;
  readonly half = input.required<Half>();
  protected readonly split = inject(SplitComparison);
  private readonly project = inject(OpenProject);
  protected readonly where = computed(() => {
    const [first, second] = this.split.isStacked() ? ['upper', 'lower'] : ['left', 'right'];
    return this.half() === 'first' ? first : second;
  });
  protected readonly isInHand = computed(() => this.split.inHand() === this.half());
  protected readonly name = computed(() => {
    const blur = this.isInHand() ? this.project.calmRecipe().blur : this.split.other()!;
    return `${blur.kind} ${(blur.radius * this.project.diagonal()).toFixed(0)} px`;
  });
}

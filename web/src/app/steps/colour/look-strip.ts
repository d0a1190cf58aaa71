import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  effect,
  inject,
  signal,
} from '@angular/core';
import { LOOK_NAMES, type LookName, sheetOf, sizeWithin } from '@hazy-lens/core';
import { Engine } from '../../engine/engine';
import { Exporter } from '../../engine/export';
import { withLook } from '../../model/looks';
import { Newest } from '../../engine/newest';
import { FocusPicturesSource } from '../../project/focus-pictures';
import { OpenProject } from '../../project/open-project';
import { Looking } from '../../workspace/looking';

const LONG_EDGE = 120;
const REST_MS = 120;
const NAMES: readonly (LookName | null)[] = [null, ...LOOK_NAMES];

/** The looks as small pictures of the open picture: tried by pointing at one or by arrow keys, chosen by a click or Enter. */
@Component({
  selector: 'hl-look-strip',
  template: `
    @for (name of names; track name; let i = $index) {
      <div
        role="radio"
        [attr.aria-checked]="chosen() === name"
        [attr.tabindex]="chosen() === name ? 0 : -1"
        (pointerenter)="looking.tried.set({ name })"
        (focus)="looking.tried.set({ name })"
        (click)="choose(name)"
        (keydown)="key($event, i)"
      >
        <span class="picture" [style.background-image]="pictures()[i]"></span>
        <span class="name">{{ name ?? 'none' }}</span>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: repeat(4, minmax(0, 1fr));
      gap: 8px 6px;
      margin-bottom: 8px;
    }
    [role='radio'] {
      cursor: pointer;
      border-radius: 4px;
    }
    .picture {
      display: block;
      aspect-ratio: 4 / 3;
      border-radius: 4px;
      background: var(--stage) center / cover;
    }
    [aria-checked='true'] .picture {
      box-shadow:
        0 0 0 2px var(--paper),
        0 0 0 3.5px var(--ink);
    }
    .name {
      display: block;
      margin-top: 3px;
      overflow: hidden;
      text-align: center;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-size: 10.5px;
      line-height: 13px;
      color: var(--ink-2);
    }
    [aria-checked='true'] .name {
      color: var(--ink);
      font-weight: 600;
    }
  `,
  host: {
    role: 'radiogroup',
    'aria-label': 'Looks',
    '(pointerleave)': 'looking.tried.set(null)',
    '(focusout)': 'looking.tried.set(null)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LookStrip {
  protected readonly looking = inject(Looking);
  private readonly project = inject(OpenProject);
  private readonly exporter = inject(Exporter);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly names = NAMES;
  protected readonly pictures = signal<readonly string[]>([]);
  protected readonly chosen = computed<LookName | null>(
    () => this.project.calmRecipe().colour.look?.name ?? null,
  );
  private readonly newest = new Newest<Parameters<Exporter['pixels']>[0]>(
    (source) => this.draw(source),
    () => undefined,
  );

  constructor() {
    const engine = inject(Engine);
    const focusPictures = inject(FocusPicturesSource);
    inject(DestroyRef).onDestroy(() => {
      this.newest.end();
      this.looking.tried.set(null);
    });
    effect((onCleanup) => {
      const picture = engine.picture();
      const source = { recipe: this.project.calmRecipe(), focusPictures: focusPictures.pictures() };
      if (!picture) return;
      const timer = setTimeout(() => this.newest.want({ picture, ...source }), REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async draw(source: Parameters<Exporter['pixels']>[0]): Promise<void> {
    const { colour } = source.recipe;
    const size = sizeWithin(sheetOf(source.recipe, source.picture), LONG_EDGE);
    const colours = NAMES.map((name) => withLook({ ...colour, look: undefined }, name));
    const images = await this.exporter.variants(source, size, colours);
    const canvas = document.createElement('canvas');
    Object.assign(canvas, size);
    const context = canvas.getContext('2d')!;
    this.pictures.set(
      images.map((image) => {
        context.putImageData(image, 0, 0);
        return `url(${canvas.toDataURL('image/jpeg', 0.85)})`;
      }),
    );
  }

  protected choose(name: LookName | null): void {
    if (name === this.chosen()) return;
    this.project.edit(name ? `look: ${name}` : 'no look', (draft) => {
      draft.colour = withLook(draft.colour, name);
    });
  }

  protected key(event: KeyboardEvent, i: number): void {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 4, ArrowUp: -4 }[event.key];
    if (event.key === 'Enter' || event.key === ' ') this.choose(NAMES[i]!);
    else if (step) {
      const to = Math.min(NAMES.length - 1, Math.max(0, i + step));
      (this.element.children[to] as HTMLElement).focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
}

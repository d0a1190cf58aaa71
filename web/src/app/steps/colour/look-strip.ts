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
import { LOOK_NAMES, type RenderSettings, type Recipe, cropOf, sizeWithin } from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { type ExportSource, Exporter } from '../../engine/export';
import { LutCache } from '../../engine/lut-cache';
import { type LookChoice, choiceOf, withLook } from '../../model/looks';
import { LatestTask } from '../../engine/latest-task';
import { ProjectAssets } from '../../project/session/project-assets';
import { OpenProject } from '../../project/session/open-project';
import { OwnLooks } from '../../storage/own-looks';
import { signalFrom } from '../../ui/from-observable';
import { ViewStore } from '../../workspace/view-store';
import { colourWords } from '../../words/colour';

const LONG_EDGE = 120;
const REST_MS = 120;

/** A look of the strip. */
interface Swatch {
  /** Another look has another. */
  key: string;
  label: string;
  choice: LookChoice | null;
}

const keyOf = (choice: LookChoice | null): string => JSON.stringify(choice);

const capitalised = (name: string): string => name[0]!.toUpperCase() + name.slice(1);

/** Those that come with the application, after none at all. */
const OURS: readonly Swatch[] = [
  { key: keyOf(null), label: colourWords.none, choice: null },
  ...LOOK_NAMES.map((name) => ({ key: keyOf({ name }), label: capitalised(name), choice: { name } })),
];

/** What small pictures are made of. */
interface Wish {
  source: ExportSource;
  swatches: readonly Swatch[];
}

/** The looks as small pictures of the open picture: tried by pointing at one or by arrow keys, chosen by a click or Enter. */
@Component({
  selector: 'hl-look-strip',
  template: `
    @for (swatch of swatches(); track swatch.key; let i = $index) {
      <div
        role="radio"
        [attr.aria-checked]="chosen() === swatch.key"
        [attr.tabindex]="i === entry() ? 0 : -1"
        (pointerenter)="viewStore.set({ tried: swatch })"
        (focus)="viewStore.set({ tried: swatch })"
        (click)="choose(swatch)"
        (keydown)="key($event, i)"
      >
        <span class="picture" [style.background-image]="pictures().get(swatch.key)"></span>
        <span class="name" [title]="swatch.label">{{ swatch.label }}</span>
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
    '(pointerleave)': 'viewStore.set({ tried: null })',
    '(focusout)': 'viewStore.set({ tried: null })',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LookStrip {
  protected readonly viewStore = inject(ViewStore);
  private readonly project = inject(OpenProject);
  private readonly exporter = inject(Exporter);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly luts = inject(LutCache);
  private readonly own = signalFrom(inject(OwnLooks).shelf(), { all: [], removed: [] });
  protected readonly swatches = computed<readonly Swatch[]>(() => [
    ...OURS,
    ...this.own().all.map(({ name, image }) => ({ key: keyOf({ image }), label: name, choice: { image } })),
  ]);
  /** Small pictures by the looks' keys, as what CSS takes for a background. */
  protected readonly pictures = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly chosen = computed(() => keyOf(choiceOf(this.project.calmRecipe().colour)));
  /** Where the keyboard comes in: at the look that is chosen; at none where that is no longer on the shelf. */
  protected readonly entry = computed(() =>
    Math.max(
      0,
      this.swatches().findIndex(({ key }) => key === this.chosen()),
    ),
  );
  private readonly newest = new LatestTask<Wish>(
    (wish) => this.draw(wish),
    () => undefined,
  );

  constructor() {
    const engine = inject(StageRenderLoop);
    const companions = inject(ProjectAssets);
    inject(DestroyRef).onDestroy(() => {
      this.newest.end();
      this.viewStore.set({ tried: null });
    });
    effect((onCleanup) => {
      const picture = engine.picture();
      const source = { recipe: this.project.calmRecipe(), companions: companions.now() };
      const swatches = this.swatches();
      if (!picture) return;
      const wish = { source: { picture, ...source }, swatches };
      const timer = setTimeout(() => this.newest.submit(wish), REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async draw({ source, swatches }: Wish): Promise<void> {
    const { colour } = source.recipe;
    const size = sizeWithin(cropOf(source.recipe, source.picture), LONG_EDGE);
    const looks = await Promise.all(swatches.map(({ choice }) => this.under(colour, choice)));
    const images = await this.exporter.variants(source, size, looks);
    const canvas = document.createElement('canvas');
    Object.assign(canvas, size);
    const context = canvas.getContext('2d')!;
    this.pictures.set(
      new Map(
        images.map((image, i) => {
          context.putImageData(image, 0, 0);
          return [swatches[i]!.key, `url(${canvas.toDataURL('image/jpeg', 0.85)})`];
        }),
      ),
    );
  }

  /** Colours under a look in whole; without it where its table cannot be read, which is told when it is chosen. */
  private async under(
    colour: Recipe['colour'],
    choice: LookChoice | null,
  ): Promise<Pick<RenderSettings, 'colour' | 'table'>> {
    const isTable = choice && 'image' in choice;
    const table = isTable ? await this.luts.get(choice.image).catch(() => null) : null;
    return { colour: withLook({ ...colour, look: undefined }, choice), table };
  }

  protected choose({ key, label, choice }: Swatch): void {
    if (key === this.chosen()) return;
    this.project.edit(
      choice ? colourWords.look('name' in choice ? choice.name : label) : colourWords.noLook,
      (draft) => {
        draft.colour = withLook(draft.colour, choice);
      },
    );
  }

  protected key(event: KeyboardEvent, i: number): void {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 4, ArrowUp: -4 }[event.key];
    if (event.key === 'Enter' || event.key === ' ') this.choose(this.swatches()[i]!);
    else if (step) {
      const to = Math.min(this.swatches().length - 1, Math.max(0, i + step));
      (this.element.children[to] as HTMLElement).focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
}

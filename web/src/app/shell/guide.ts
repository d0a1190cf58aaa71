import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  ViewEncapsulation,
  computed,
  inject,
  resource,
  signal,
  viewChild,
} from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import {
  MAT_DIALOG_DATA,
  type MatDialog,
  MatDialogClose,
  MatDialogContent,
  MatDialogTitle,
} from '@angular/material/dialog';
import { MatFormField } from '@angular/material/form-field';
import { MatIcon } from '@angular/material/icon';
import { MatActionList, MatListItem } from '@angular/material/list';
import { MatOption, MatSelect } from '@angular/material/select';
import { WindowLayout } from '../workspace/window-layout';
import { STEPS } from './steps';
import { shellWords } from '../words/shell';

interface Page {
  title: string;
  html: string;
}

/** Opens the guide. @param title of a page: a step's own, or the first where nothing is said. */
export function openGuide(dialog: MatDialog, title?: string): void {
  dialog.open(Guide, {
    width: '920px',
    maxWidth: '94vw',
    height: '86dvh',
    ariaLabel: shellWords.guide,
    data: { title },
    autoFocus: 'dialog',
  });
}

/** Ends the guide: the build writes the text that it leads to. */
const LICENCES: Page = {
  title: shellWords.licences,
  html: `<p>Hazy Lens is under the MIT licence. It ships with fonts, icons and libraries under licences of their own.</p>
    <p><a href="licences.txt" target="_blank">Licences of all that ships with it</a></p>`,
};

/** The pages of `docs/guide.md`, with its pictures as they ship. */
async function readPages(): Promise<Page[]> {
  const [{ marked }, { default: text }] = await Promise.all([
    import('marked'),
    import('../../../../docs/guide.md'),
  ]);
  const pages = text
    .split(/^## /m)
    .slice(1)
    .map((part) => {
      const [title, ...body] = part.split('\n');
      const html = marked.parse(body.join('\n'), { async: false });
      return { title: title!.trim(), html: html.replaceAll('src="screenshots/', 'src="guide/') };
    });
  return [...pages, LICENCES];
}

/** The guide: tasks first, then a page for each step. It is part of the application, and needs no network. */
@Component({
  selector: 'hl-guide',
  imports: [
    MatActionList,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatFormField,
    MatIcon,
    MatIconButton,
    MatListItem,
    MatOption,
    MatSelect,
  ],
  template: `
    <div class="dialog-head">
      <h2 mat-dialog-title>{{ words.guide }}</h2>
      @if (isNarrow()) {
        <mat-form-field subscriptSizing="dynamic">
          <mat-select
            [aria-label]="words.page"
            [value]="page()?.title"
            (selectionChange)="show($event.value)"
          >
            @for (one of pages(); track one.title) {
              <mat-option [value]="one.title">{{ one.title }}</mat-option>
            }
          </mat-select>
        </mat-form-field>
      }
      <button matIconButton class="push" [aria-label]="words.close" mat-dialog-close>
        <mat-icon svgIcon="close" />
      </button>
    </div>
    <mat-dialog-content>
      @if (!isNarrow()) {
        <nav [aria-label]="words.pages">
          <mat-action-list role="list">
            @for (one of pages(); track one.title) {
              <div role="listitem" [class.first-step]="one.title === firstStep">
                <button
                  mat-list-item
                  [attr.aria-current]="one.title === page()?.title ? 'page' : null"
                  (click)="show(one.title)"
                >
                  {{ one.title }}
                </button>
              </div>
            }
          </mat-action-list>
        </nav>
      }
      <article #article tabindex="0" [attr.aria-label]="page()?.title">
        @if (page(); as shown) {
          <h3>{{ shown.title }}</h3>
          <div [innerHTML]="shown.html"></div>
        }
      </article>
    </mat-dialog-content>
  `,
  styles: `
    hl-guide {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      height: 100%;
    }
    hl-guide .mat-mdc-dialog-content {
      display: flex;
      gap: 24px;
      padding-bottom: 0;
      overflow: hidden;
    }
    hl-guide nav {
      flex: none;
      width: 190px;
      overflow: auto;
      --mat-list-list-item-one-line-container-height: 32px;
      --mat-list-list-item-label-text-size: 13px;
      --mat-list-list-item-label-text-tracking: 0;
      --mat-list-list-item-leading-icon-start-space: 0;
    }
    hl-guide .mat-mdc-list-item[aria-current='page'] {
      background: var(--field);
      --mat-list-list-item-label-text-weight: 650;
    }
    hl-guide .first-step {
      margin-top: 8px;
      padding-top: 8px;
      border-top: 1px solid var(--line);
    }
    hl-guide article {
      flex: 1;
      overflow: auto;
      padding: 0 8px 24px 4px;
      font-size: 14px;
      line-height: 1.55;
      outline-offset: -2px;
    }
    hl-guide h3 {
      font-size: 18px;
      font-weight: 650;
      letter-spacing: -0.01em;
    }
    hl-guide article > div {
      max-width: 62ch;
    }
    hl-guide article p,
    hl-guide article ol,
    hl-guide article ul {
      margin: 10px 0;
    }
    hl-guide article :is(ol, ul) {
      padding-left: 22px;
    }
    hl-guide li {
      margin: 5px 0;
    }
    hl-guide img {
      width: 100%;
      border-radius: 6px;
      border: 1px solid var(--line);
    }
    hl-guide code {
      padding: 1px 6px;
      border-radius: 4px;
      background: var(--field);
      font-size: 12.5px;
    }
    hl-guide pre {
      overflow: auto;
      padding: 8px 10px;
      border-radius: 5px;
      background: var(--field);
    }
  `,
  // The rendered Markdown has none of the compiler's attributes for scoped styles.
  encapsulation: ViewEncapsulation.None,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Guide {
  protected readonly words = shellWords;
  protected readonly isNarrow = inject(WindowLayout).isNarrow;
  protected readonly firstStep = STEPS[0]!.label;
  private readonly article = viewChild.required<ElementRef<HTMLElement>>('article');
  private readonly read = resource({ loader: readPages });
  private readonly wanted = signal(inject<{ title?: string }>(MAT_DIALOG_DATA).title);
  protected readonly pages = computed(() => (this.read.hasValue() ? this.read.value() : []));
  protected readonly page = computed(
    () => this.pages().find(({ title }) => title === this.wanted()) ?? this.pages()[0],
  );

  protected show(title: string): void {
    this.wanted.set(title);
    this.article().nativeElement.scrollTo(0, 0);
  }
}

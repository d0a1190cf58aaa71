import { ChangeDetectionStrategy, Component, HostListener, inject, signal } from '@angular/core';
import { Queue } from '../jobs/queue';
import { ProfileRail } from '../profile/profile-rail';
import { Stage } from '../stage/stage';
import { Notices } from '../state/notices';
import { Session } from '../state/session';
import { Workspace } from '../state/workspace';
import { BlurPanel } from '../steps/blur/blur-panel';
import { ColourPanel } from '../steps/colour/colour-panel';
import { FocusPanel } from '../steps/focus/focus-panel';
import { OutputPanel } from '../steps/output/output-panel';
import { SourcePanel } from '../steps/source/source-panel';
import { Icon } from '../ui/icon';
import { Route } from './route';
import { Shortcuts } from './shortcuts';
import { TopBar } from './top-bar';

/** The window: bar, route, stage, profile, panel. Files may be dropped anywhere on it. */
@Component({
  selector: 'hl-root',
  imports: [
    TopBar,
    Route,
    Stage,
    ProfileRail,
    SourcePanel,
    FocusPanel,
    BlurPanel,
    ColourPanel,
    OutputPanel,
    Icon,
    Queue,
  ],
  template: `
    <hl-top-bar />
    <hl-route />
    <main aria-label="Stage">
      <hl-stage />
      @if (session.opening(); as name) {
        <div class="veil" role="status">Opening “{{ name }}” …</div>
      } @else if (dropping()) {
        <div class="veil">Let go to open the picture as a new project</div>
      }
      <div class="notices">
        @for (notice of notices.all(); track notice) {
          <div
            class="notice"
            [class.error]="notice.kind === 'error'"
            [attr.role]="notice.kind === 'error' ? 'alert' : 'status'"
          >
            <p>{{ notice.text }}</p>
            @if (notice.action; as action) {
              <button class="button outlined" (click)="action.run()">{{ action.label }}</button>
            }
            <button
              class="button icon push"
              aria-label="Put this message away"
              (click)="notices.dismiss(notice)"
            >
              <hl-icon name="close" />
            </button>
          </div>
        }
      </div>
    </main>
    <hl-profile-rail />
    <aside [attr.aria-label]="workspace.step() + ' panel'">
      @switch (workspace.step()) {
        @case ('source') {
          <hl-source-panel />
        }
        @case ('focus') {
          <hl-focus-panel />
        }
        @case ('blur') {
          <hl-blur-panel />
        }
        @case ('colour') {
          <hl-colour-panel />
        }
        @case ('output') {
          <hl-output-panel />
        }
      }
    </aside>
    <hl-queue />
  `,
  styles: `
    :host {
      display: grid;
      height: 100dvh;
      min-width: 900px;
      grid-template: 44px minmax(0, 1fr) auto / 148px minmax(0, 1fr) 84px 288px;
      grid-template-areas: 'bar bar bar bar' 'route stage rail panel' 'queue queue queue queue';
    }
    hl-top-bar {
      grid-area: bar;
    }
    hl-route {
      grid-area: route;
    }
    main {
      grid-area: stage;
      position: relative;
      min-width: 0;
    }
    hl-profile-rail {
      grid-area: rail;
    }
    aside {
      grid-area: panel;
      overflow: auto;
      padding: 14px 16px 20px;
      background: var(--paper);
      border-left: 1px solid var(--line);
    }
    hl-queue {
      grid-area: queue;
    }
    .veil {
      position: absolute;
      inset: 0;
      display: grid;
      place-items: center;
      background: rgb(30 30 30 / 0.6);
      color: #fff;
      font-size: 15px;
      z-index: 5;
    }
    .notices {
      position: absolute;
      left: 50%;
      top: 16px;
      translate: -50% 0;
      display: grid;
      gap: 8px;
      width: max-content;
      max-width: min(640px, 92%);
      z-index: 8;
    }
    .notice {
      display: flex;
      align-items: center;
      gap: 10px;
      padding: 10px 8px 10px 16px;
      background: var(--raised);
      border-radius: 8px;
      border: 1px solid var(--line-strong);
      box-shadow: 0 8px 28px rgb(0 0 0 / 0.35);
    }
    .notice.error {
      border-color: var(--warn);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shell {
  protected readonly session = inject(Session);
  protected readonly notices = inject(Notices);
  protected readonly workspace = inject(Workspace);
  protected readonly dropping = signal(false);

  constructor() {
    inject(Shortcuts);
    void this.session.start();
  }

  @HostListener('dragover', ['$event'])
  protected dragOver(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    this.dropping.set(true);
  }

  @HostListener('dragleave', ['$event'])
  protected dragLeave(event: DragEvent): void {
    if (!event.relatedTarget) this.dropping.set(false);
  }

  @HostListener('drop', ['$event'])
  protected drop(event: DragEvent): void {
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length === 0) return;
    event.preventDefault();
    this.dropping.set(false);
    void this.session.openDropped(files);
  }

  @HostListener('window:paste', ['$event'])
  protected paste(event: ClipboardEvent): void {
    const files = [...(event.clipboardData?.files ?? [])];
    if (files.length > 0) void this.session.openDropped(files);
  }
}

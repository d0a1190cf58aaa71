import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { DepthMap, Profile } from '@hazy-lens/core';
import { Document } from '../../state/document';
import { Workspace } from '../../state/workspace';
import { Icon } from '../../ui/icon';
import { type NumberChange, NumberField } from '../../ui/number-field';
import { GreyImport } from './grey-import';
import { ProfileChoice } from './profile-choice';

/** The depth map: where it is in focus, how it falls off, and how closely it follows the picture's edges. */
@Component({
  selector: 'hl-depth-panel',
  imports: [NumberField, ProfileChoice, Icon],
  template: `
    @if (map(); as how) {
      <section class="panel-section" aria-label="Depth map">
        <p class="hint">Click on the picture where it should be in focus.</p>
        <hl-number
          label="Depth in focus"
          unit="%"
          [decimals]="1"
          [slider]="true"
          [value]="how.focus * 100"
          [initial]="50"
          (changed)="set('focus', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <hl-number
          label="Clear range"
          unit="%"
          [decimals]="1"
          [slider]="true"
          [value]="how.clear * 100"
          [initial]="5"
          (changed)="set('clear', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <hl-number
          class="far"
          label="Falloff farther"
          unit="%"
          [slider]="true"
          [max]="400"
          [sliderMax]="100"
          [value]="how.falloff * 100"
          [initial]="40"
          (changed)="set('falloff', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <hl-number
          class="near"
          label="Falloff nearer"
          unit="%"
          [slider]="true"
          [max]="400"
          [sliderMax]="100"
          [value]="(how.nearFalloff ?? how.falloff) * 100"
          [initial]="40"
          (changed)="set('nearFalloff', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <hl-number
          label="Haze"
          name="Haze of the depth map"
          unit="%"
          [slider]="true"
          [value]="how.haze * 100"
          [initial]="100"
          (changed)="set('haze', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <div class="row">
          <hl-profile-choice [profile]="how.profile" (chosen)="setProfile($event)" />
          <button
            class="button outlined push"
            [attr.aria-pressed]="how.invert"
            (click)="flip('invert', 'inside out')"
          >
            Inside out
          </button>
        </div>
        <div class="choices" role="group" aria-label="What is near">
          <button [attr.aria-pressed]="!how.swap" (click)="how.swap && flip('swap', 'near and far')">
            Bright is near
          </button>
          <button [attr.aria-pressed]="how.swap" (click)="how.swap || flip('swap', 'near and far')">
            Dark is near
          </button>
        </div>
        <hl-number
          label="Align to edges"
          unit="%"
          [slider]="true"
          [value]="how.align * 100"
          (changed)="set('align', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <div class="row">
          <button class="button outlined" (click)="importer.open()">
            <hl-icon name="fileUp" />Another map
          </button>
          @if (importer.demoDepth(); as own) {
            <button class="button outlined" (click)="importer.useDemo(own)">The demo's own</button>
          }
        </div>
      </section>
    }
  `,
  styles: `
    .near {
      --filled-ink: var(--near);
    }
    .far {
      --filled-ink: var(--far);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DepthPanel {
  private readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly importer = inject(GreyImport);
  protected readonly map = computed(() => this.document.recipe().focus.depthMap ?? null);

  protected set(
    key: 'focus' | 'clear' | 'falloff' | 'nearFalloff' | 'haze' | 'align',
    { value, gesture }: NumberChange,
  ): void {
    this.change(`depth map: ${key}`, (how) => (how[key] = value / 100), gesture);
  }

  protected setProfile(profile: Profile): void {
    this.change('depth map: profile', (how) => (how.profile = profile));
  }

  protected flip(key: 'swap' | 'invert', label: string): void {
    this.change(`depth map: ${label}`, (how) => (how[key] = !how[key]));
  }

  private change(label: string, change: (how: DepthMap) => void, gesture: string | null = null): void {
    this.document.edit(
      label,
      (draft) => {
        if (draft.focus.depthMap) change(draft.focus.depthMap);
      },
      gesture,
    );
  }
}

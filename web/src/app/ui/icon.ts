import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { DomSanitizer } from '@angular/platform-browser';
import chevronDown from 'lucide-static/icons/chevron-down.svg';
import download from 'lucide-static/icons/download.svg';
import ellipsis from 'lucide-static/icons/ellipsis.svg';
import fileDown from 'lucide-static/icons/file-down.svg';
import fileUp from 'lucide-static/icons/file-up.svg';
import grip from 'lucide-static/icons/grip-vertical.svg';
import imagePlus from 'lucide-static/icons/image-plus.svg';
import keyboard from 'lucide-static/icons/keyboard.svg';
import link from 'lucide-static/icons/link-2.svg';
import monitor from 'lucide-static/icons/monitor.svg';
import moon from 'lucide-static/icons/moon.svg';
import redo from 'lucide-static/icons/redo-2.svg';
import sun from 'lucide-static/icons/sun.svg';
import undo from 'lucide-static/icons/undo-2.svg';
import unlink from 'lucide-static/icons/link-2-off.svg';
import close from 'lucide-static/icons/x.svg';

const ICONS = {
  chevronDown,
  close,
  download,
  ellipsis,
  fileDown,
  fileUp,
  grip,
  imagePlus,
  keyboard,
  link,
  monitor,
  moon,
  redo,
  sun,
  undo,
  unlink,
};
export type IconName = keyof typeof ICONS;

/** A drawing beside a name; never the only name of a thing. */
@Component({
  selector: 'hl-icon',
  template: `<span aria-hidden="true" [innerHTML]="markup()"></span>`,
  styles: `
    :host,
    span {
      display: inline-flex;
    }
    :host ::ng-deep svg {
      width: 16px;
      height: 16px;
      stroke-width: 1.75;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Icon {
  private readonly sanitizer = inject(DomSanitizer);
  readonly name = input.required<IconName>();
  // The markup is our own package's, fixed at build time.
  protected readonly markup = computed(() => this.sanitizer.bypassSecurityTrustHtml(ICONS[this.name()]));
}

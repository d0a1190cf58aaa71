import { type EnvironmentProviders, inject, provideAppInitializer } from '@angular/core';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import keyAfter from './key-after.svg';
import keyBefore from './key-before.svg';
import chevronDown from 'lucide-static/icons/chevron-down.svg';
import earlier from 'lucide-static/icons/arrow-up.svg';
import copy from 'lucide-static/icons/copy.svg';
import download from 'lucide-static/icons/download.svg';
import network from 'lucide-static/icons/network.svg';
import ellipsis from 'lucide-static/icons/ellipsis.svg';
import fileDown from 'lucide-static/icons/file-down.svg';
import fileUp from 'lucide-static/icons/file-up.svg';
import grip from 'lucide-static/icons/grip-vertical.svg';
import imagePlus from 'lucide-static/icons/image-plus.svg';
import keyboard from 'lucide-static/icons/keyboard.svg';
import level from 'lucide-static/icons/ruler.svg';
import link from 'lucide-static/icons/link-2.svg';
import monitor from 'lucide-static/icons/monitor.svg';
import moon from 'lucide-static/icons/moon.svg';
import alone from 'lucide-static/icons/expand.svg';
import pause from 'lucide-static/icons/square.svg';
import play from 'lucide-static/icons/play.svg';
import redo from 'lucide-static/icons/redo-2.svg';
import stepBack from 'lucide-static/icons/chevron-left.svg';
import stepOn from 'lucide-static/icons/chevron-right.svg';
import soundOff from 'lucide-static/icons/volume-x.svg';
import soundOn from 'lucide-static/icons/volume-2.svg';
import sun from 'lucide-static/icons/sun.svg';
import undo from 'lucide-static/icons/undo-2.svg';
import unlink from 'lucide-static/icons/link-2-off.svg';
import close from 'lucide-static/icons/x.svg';
import menu from 'lucide-static/icons/menu.svg';
import hazeMap from 'lucide-static/icons/map.svg';
import exaggerate from 'lucide-static/icons/chevrons-up.svg';
import clipping from 'lucide-static/icons/contrast.svg';
import hide from 'lucide-static/icons/eye-off.svg';
import picture from 'lucide-static/icons/image.svg';
import history from 'lucide-static/icons/history.svg';
import help from 'lucide-static/icons/circle-help.svg';
import pipette from 'lucide-static/icons/pipette.svg';

const ICONS = {
  pipette,
  help,
  history,
  picture,
  hide,
  clipping,
  exaggerate,
  hazeMap,
  menu,
  alone,
  chevronDown,
  earlier,
  close,
  copy,
  download,
  network,
  ellipsis,
  fileDown,
  fileUp,
  grip,
  imagePlus,
  keyAfter,
  keyBefore,
  keyboard,
  level,
  link,
  monitor,
  moon,
  pause,
  play,
  redo,
  soundOff,
  soundOn,
  stepBack,
  stepOn,
  sun,
  undo,
  unlink,
};

/** The icons that ship with the application, for `<mat-icon svgIcon="…">`. */
export function provideIcons(): EnvironmentProviders {
  return provideAppInitializer(() => {
    const registry = inject(MatIconRegistry);
    const sanitizer = inject(DomSanitizer);
    // The markup is our own package's, fixed at build time.
    for (const [name, svg] of Object.entries(ICONS))
      registry.addSvgIconLiteral(name, sanitizer.bypassSecurityTrustHtml(svg));
  });
}

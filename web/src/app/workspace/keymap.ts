import { DOCUMENT, DestroyRef, Injectable, inject, signal } from '@angular/core';
import { OpenProject } from '../project/session/open-project';
import { SelectionStore } from './selection-store';
import { type ViewSwitch, ViewStore } from './view-store';
import { Transport } from './transport';
import { Viewport } from './viewport';
import { WhitePicker } from './white-picker';
import { ToolStore } from './tool-store';
import { remember, remembered } from '../storage/remembered';

/** A key pressed for less than this is a tap: a tap toggles what holding shows for a moment. */
const TAP_MS = 280;
const LETTERS_KEY = 'hazy-lens-letters';
const LARGER = 1.15;

/** Space works them: it is not for playing there. */
const WORKED_BY_SPACE =
  'button, summary, [role=button], [role=switch], [role=radio], [role=combobox], [role=option]';

/** What a key does while it is held; a tap leaves it so. */
export interface Hold {
  down: () => void;
  /** Takes back what `down` did. */
  up: () => void;
  /** A tap is a hold that is only short. */
  neverStays?: boolean;
  /** What a tap does besides. */
  tap?: () => void;
  isOn?: () => boolean;
}

/** What keys are for, in the order of the help. */
export const KEY_GROUPS = ['Looking', 'Picture', 'Footage', 'Brush', 'Numbers', 'Project'] as const;

/** One line of the keymap, and of its help. */
export interface Binding {
  group: (typeof KEY_GROUPS)[number];
  /** As people read it. */
  shown: string;
  does: string;
  /** Names of keys, lower case; `ctrl+` and `shift+` go before. None where it is the hand that acts on what it points to. */
  keys: readonly string[];
  run?: () => void;
  hold?: Hold;
  /** The status line has a button for it, for hands without a keyboard. */
  button?: { icon: string; label: string };
  /** False where the key is left to what else it does. */
  when?: () => boolean;
}

/** The one table of keys. Letters come from our own names; they can be switched off. */
@Injectable()
export class Keymap {
  private readonly page = inject(DOCUMENT);
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly viewStore = inject(ViewStore);
  private readonly settings = inject(ToolStore);
  private readonly viewport = inject(Viewport);
  private readonly whitePicker = inject(WhitePicker);
  private readonly transport = inject(Transport);
  private readonly pressed = new Map<string, { at: number; hold: Hold }>();
  /** True while single letters act; whoever dictates or uses them otherwise can switch them off. */
  readonly lettersOn = signal(remembered(LETTERS_KEY) !== 'off');
  /** True while the help is asked for. */
  readonly helpWanted = signal(false);

  private readonly isFootage = (): boolean => this.transport.isOpen();

  readonly bindings: readonly Binding[] = [
    {
      group: 'Looking',
      shown: 'B',
      does: 'Before: show the original',
      keys: ['b'],
      hold: this.before(),
      button: { icon: 'picture', label: 'Before' },
    },
    {
      group: 'Looking',
      shown: 'X',
      does: 'Exaggerate: the blur four times stronger, to see where it begins',
      keys: ['x'],
      hold: this.flip('exaggerated'),
      button: { icon: 'exaggerate', label: 'Exaggerate' },
    },
    {
      group: 'Looking',
      shown: 'M',
      does: 'Haze map: the focus field alone',
      keys: ['m'],
      hold: this.flip('hazeMap'),
      button: { icon: 'hazeMap', label: 'Haze map' },
    },
    {
      group: 'Looking',
      shown: 'C',
      does: 'Clipping: whites in rising stripes, blacks in falling stripes',
      keys: ['c'],
      hold: this.flip('clipped'),
      button: { icon: 'clipping', label: 'Clipping' },
    },
    {
      group: 'Looking',
      shown: 'H',
      does: 'Hide the handles',
      keys: ['h'],
      hold: this.flip('handlesHidden'),
      button: { icon: 'hide', label: 'Hide handles' },
    },
    {
      group: 'Looking',
      shown: 'W',
      does: 'Wipe between before and after',
      keys: ['w'],
      run: () =>
        this.viewStore.set({ comparison: this.viewStore.comparison() === 'wipe' ? 'after' : 'wipe' }),
    },
    {
      group: 'Looking',
      shown: 'P',
      does: 'Hide or show panels',
      keys: ['p'],
      run: () => this.viewStore.set({ pictureAlone: !this.viewStore.pictureAlone() }),
    },
    {
      group: 'Picture',
      shown: 'F',
      does: 'Fit the picture to the stage',
      keys: ['f'],
      run: () => this.viewport.fit(),
    },
    {
      group: 'Picture',
      shown: '1',
      does: 'Actual size',
      keys: ['1'],
      run: () => this.viewport.zoomTo(1 / this.viewport.pixelRatio()),
    },
    {
      group: 'Picture',
      shown: '+',
      does: 'Zoom in; the wheel zooms to the pointer',
      keys: ['+', '='],
      run: () => this.zoom(1.25),
    },
    { group: 'Picture', shown: '−', does: 'Zoom out', keys: ['-'], run: () => this.zoom(1 / 1.25) },
    {
      group: 'Footage',
      shown: 'Space',
      does: 'Play or pause. Hold and drag: pan; or drag with the middle button',
      keys: [' '],
      hold: {
        down: () => this.viewStore.set({ panning: true }),
        up: () => this.viewStore.set({ panning: false }),
        neverStays: true,
        tap: () => this.transport.toggle(),
      },
    },
    {
      group: 'Footage',
      shown: 'R',
      does: 'Play or pause',
      keys: ['r'],
      run: () => this.transport.toggle(),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: 'J',
      does: 'Shuttle backwards; press again to double the speed',
      keys: ['j'],
      run: () => this.transport.shuttle(-1),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: 'K',
      does: 'Stop the shuttle',
      keys: ['k'],
      run: () => this.transport.stop(),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: ',',
      does: 'Previous frame',
      keys: [','],
      run: () => this.transport.step(-1),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: '.',
      does: 'Next frame',
      keys: ['.'],
      run: () => this.transport.step(1),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: 'Home',
      does: 'To the first frame',
      keys: ['home'],
      run: () => this.transport.toFirst(),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: 'End',
      does: 'To the last frame',
      keys: ['end'],
      run: () => this.transport.toLast(),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: 'I',
      does: 'In: start the footage at the current frame',
      keys: ['i'],
      run: () => this.transport.trimHere(0),
      when: this.isFootage,
    },
    {
      group: 'Footage',
      shown: 'O',
      does: 'Out: end the footage after the current frame',
      keys: ['o'],
      run: () => this.transport.trimHere(1),
      when: this.isFootage,
    },
    { group: 'Brush', shown: 'S', does: 'Smaller brush', keys: ['s'], run: () => this.resize(1 / LARGER) },
    {
      group: 'Brush',
      shown: 'L',
      does: 'Larger brush; or Alt + wheel. Without a brush: shuttle forwards, again to double the speed',
      keys: ['l'],
      run: () => this.largerOrOn(),
    },
    {
      group: 'Numbers',
      shown: 'Arrow keys',
      does: 'Number or grip: one step; Shift ten, Alt a tenth',
      keys: [],
    },
    { group: 'Picture', shown: 'Enter', does: 'Picture: click at the keyboard pointer', keys: [] },
    {
      group: 'Picture',
      shown: 'Shift + drag',
      does: 'Rotation or gradient: 15° steps. Brush: straight line',
      keys: [],
    },
    { group: 'Picture', shown: 'Shift + arrows', does: 'Picture: pan', keys: [] },
    { group: 'Picture', shown: 'Alt + drag', does: 'Sounding: drag a copy', keys: [] },
    { group: 'Footage', shown: 'Page ↑ ↓', does: 'Reel: previous or next key', keys: [] },
    {
      group: 'Picture',
      shown: 'Delete',
      does: 'Delete the row, sounding, knot or key that has the focus',
      keys: [],
    },
    {
      group: 'Picture',
      shown: 'Escape',
      does: 'Cancel the drag, band placement or picker',
      keys: ['escape'],
      run: () => {
        this.selection.place(null);
        this.whitePicker.isReady.set(false);
      },
    },
    {
      group: 'Project',
      shown: 'N',
      does: 'Next step of the route',
      keys: ['n'],
      run: () => this.viewStore.goBy(1, this.isFootage()),
    },
    {
      group: 'Project',
      shown: 'E',
      does: 'Earlier step of the route',
      keys: ['e'],
      run: () => this.viewStore.goBy(-1, this.isFootage()),
    },
    { group: 'Project', shown: 'Ctrl Z', does: 'Undo', keys: ['ctrl+z'], run: () => this.project.undo() },
    {
      group: 'Project',
      shown: 'Ctrl Shift Z, Ctrl Y',
      does: 'Redo',
      keys: ['ctrl+shift+z', 'ctrl+y'],
      run: () => this.project.redo(),
    },
    { group: 'Project', shown: 'Ctrl C, Ctrl V', does: 'Copy or paste the recipe', keys: [] },
    {
      group: 'Project',
      shown: '?',
      does: 'Show keyboard shortcuts',
      keys: ['?'],
      run: () => this.helpWanted.set(true),
    },
  ];
  private readonly byKey = new Map(
    this.bindings.flatMap((one) => one.keys.map((key) => [key, one] as const)),
  );

  constructor() {
    const listens = new AbortController();
    const { signal } = listens;
    this.page.addEventListener('keydown', (event) => this.down(event), { signal });
    this.page.addEventListener('keyup', (event) => this.up(event), { signal });
    this.page.defaultView?.addEventListener('blur', () => this.releaseAll(), { signal });
    inject(DestroyRef).onDestroy(() => {
      listens.abort();
      this.releaseAll();
    });
  }

  switchLetters(on: boolean): void {
    this.lettersOn.set(on);
    remember(LETTERS_KEY, on ? 'on' : 'off');
  }

  private down(event: KeyboardEvent): void {
    const name = nameOf(event);
    const binding = name === null ? undefined : this.byKey.get(name);
    if (!binding || event.defaultPrevented || !this.isFree(event, name!)) return;
    if (binding.when && !binding.when()) return;
    if (binding.run) {
      event.preventDefault();
      binding.run();
    } else if (binding.hold) {
      event.preventDefault();
      if (!event.repeat) this.press(name!, binding.hold, event.timeStamp);
    }
  }

  /** @param at when the key or the button went down, not when the page came to hear of it. */
  press(name: string, hold: Hold, at: number): void {
    if (this.pressed.has(name)) return;
    this.pressed.set(name, { at, hold });
    hold.down();
  }

  /** True where a key is not for what has the focus. */
  private isFree(event: KeyboardEvent, name: string): boolean {
    const target = event.target instanceof Element ? event.target : null;
    if (this.page.querySelector('mat-dialog-container')) return false;
    // In a box with nothing typed but what it shows, steps are the project's.
    if (isTextBox(target)) return name.startsWith('ctrl+') && target!.hasAttribute('data-keeps-steps');
    if (target?.closest('[role=menu]')) return false;
    // Space works what has the focus.
    if (name === ' ') return !target?.closest(WORKED_BY_SPACE);
    // So do Home and End on what has ends.
    if (name === 'home' || name === 'end') return !target?.closest('[type=range], [role=slider]');
    return this.lettersOn() || !/^[a-z0-9]$/.test(name);
  }

  private up(event: KeyboardEvent): void {
    this.release(event.key.toLowerCase(), event.timeStamp);
  }

  release(name: string, at: number): void {
    const press = this.pressed.get(name);
    if (!press) return;
    this.pressed.delete(name);
    const isTap = at - press.at <= TAP_MS;
    if (press.hold.neverStays || !isTap) press.hold.up();
    if (isTap) press.hold.tap?.();
  }

  private releaseAll(): void {
    for (const { hold } of this.pressed.values()) hold.up();
    this.pressed.clear();
  }

  /** From the wipe it goes back to the wipe. */
  private before(): Hold {
    const { comparison, set } = this.viewStore;
    let last = comparison();
    return {
      down: () => {
        const now = comparison();
        set({ comparison: now === 'before' ? (last === 'before' ? 'after' : last) : 'before' });
        last = now;
      },
      up: () => set({ comparison: last }),
      isOn: () => comparison() === 'before',
    };
  }

  private zoom(by: number): void {
    this.viewport.zoomTo(this.viewport.view().zoom * by);
  }

  /** Turns something of the view over for as long as it is held. */
  private flip(name: ViewSwitch): Hold {
    let was = false;
    const turn = (isOn: boolean): void => this.viewStore.set({ [name]: isOn });
    return {
      down: () => {
        was = this.viewStore[name]();
        turn(!was);
      },
      up: () => turn(was),
      isOn: this.viewStore[name],
    };
  }

  /** A letter is for what is in hand first. */
  private largerOrOn(): void {
    const { kind } = this.selection.chosen();
    if (kind === 'brush' || kind === 'matte') this.resize(LARGER);
    else this.transport.shuttle(1);
  }

  private resize(by: number): void {
    const { kind } = this.selection.chosen();
    if (kind === 'brush') this.settings.resize('brush', by);
    else if (kind === 'matte') this.settings.resize('scribble', by);
  }
}

/** "ctrl+shift+z"; a letter is the same with Caps Lock. Null for combinations that are the browser's. */
function nameOf(event: KeyboardEvent): string | null {
  if (event.altKey) return null;
  const key = event.key.toLowerCase();
  if (event.ctrlKey || event.metaKey) return `ctrl+${event.shiftKey ? 'shift+' : ''}${key}`;
  return event.shiftKey && /^[a-z]$/.test(key) ? null : key;
}

function isTextBox(target: Element | null): boolean {
  return (
    target !== null &&
    ((target as HTMLElement).isContentEditable ||
      target.matches('input:not([type=range]):not([type=checkbox]), textarea, select'))
  );
}

import { DOCUMENT, Injectable, type WritableSignal, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Document } from '../state/document';
import { Workspace } from '../state/workspace';
import { ShortcutHelp } from './shortcut-help';

/** A key pressed for less than this is a tap: it leaves switched what holding would only show. */
const TAP_MS = 280;

interface Hold {
  /** Switches the look on or off. */
  set: (on: boolean) => void;
  isOn: () => boolean;
}

/** Keys for looking and for taking back. Letters come from our own names. */
@Injectable({ providedIn: 'root' })
export class Shortcuts {
  private readonly workspace = inject(Workspace);
  private readonly project = inject(Document);
  private readonly dialog = inject(MatDialog);
  private readonly pressed = new Map<string, { at: number; was: boolean }>();
  private readonly holds: Record<string, Hold> = {
    b: {
      set: (on) => this.workspace.comparison.set(on ? 'before' : 'after'),
      isOn: () => this.workspace.comparison() === 'before',
    },
    x: flag(this.workspace.exaggerated),
    m: flag(this.workspace.hazeMap),
    h: flag(this.workspace.handlesHidden),
  };

  constructor() {
    const page = inject(DOCUMENT);
    page.addEventListener('keydown', (event) => this.down(event));
    page.addEventListener('keyup', (event) => this.up(event));
    page.defaultView?.addEventListener('blur', () => this.releaseAll());
  }

  showHelp(): void {
    this.dialog.open(ShortcutHelp, { width: '560px', ariaLabel: 'Keyboard' });
  }

  private down(event: KeyboardEvent): void {
    if (isTyping(event.target) || this.dialog.openDialogs.length > 0) return;
    const key = event.key.toLowerCase();
    if (event.ctrlKey || event.metaKey) {
      if (key === 'z') this.take(event, () => (event.shiftKey ? this.project.redo() : this.project.undo()));
      if (key === 'y') this.take(event, () => this.project.redo());
      return;
    }
    if (event.altKey) return;
    if (event.key === '?') return this.take(event, () => this.showHelp());
    if (key === 'w')
      return this.take(event, () =>
        this.workspace.comparison.update((now) => (now === 'wipe' ? 'after' : 'wipe')),
      );
    if (event.key === '[' || event.key === ']')
      return this.take(event, () => this.resizeBrush(event.key === ']' ? 1.15 : 1 / 1.15));
    if (event.key === 'Escape' && this.workspace.placing())
      return this.take(event, () => this.workspace.placing.set(null));
    const hold = this.holds[key];
    if (!hold) return;
    event.preventDefault();
    if (event.repeat || this.pressed.has(key)) return;
    const was = hold.isOn();
    this.pressed.set(key, { at: performance.now(), was });
    hold.set(!was);
  }

  private up(event: KeyboardEvent): void {
    const key = event.key.toLowerCase();
    const press = this.pressed.get(key);
    if (!press) return;
    this.pressed.delete(key);
    if (performance.now() - press.at > TAP_MS) this.holds[key]!.set(press.was);
  }

  private releaseAll(): void {
    for (const [key, { was }] of this.pressed) this.holds[key]!.set(was);
    this.pressed.clear();
  }

  private resizeBrush(by: number): void {
    this.workspace.brush.update((now) => ({
      ...now,
      radius: Math.min(1, Math.max(0.0005, now.radius * by)),
    }));
  }

  private take(event: KeyboardEvent, run: () => void): void {
    event.preventDefault();
    run();
  }
}

function flag(value: WritableSignal<boolean>): Hold {
  return { set: (on) => value.set(on), isOn: value };
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      target.matches('input:not([type=range]):not([type=checkbox]), textarea, select'))
  );
}

import { beforeEach, describe, expect, it, vi } from 'vitest';
import { OpenProject } from '../../src/app/project/session/open-project';
import { SelectionStore } from '../../src/app/workspace/selection-store';
import { Keymap } from '../../src/app/workspace/keymap';
import { ViewStore } from '../../src/app/workspace/view-store';
import { Viewport } from '../../src/app/workspace/viewport';
import { ToolStore } from '../../src/app/workspace/tool-store';
import { Transport } from '../../src/app/workspace/transport';
import { fakeStorage, openOne, services } from '../services';

class FakeElement {
  constructor(private readonly matching: string[] = []) {}
  matches = (selector: string): boolean => this.matching.some((one) => selector.includes(one));
  closest = (selector: string): object | null => (this.matches(selector) ? this : null);
  hasAttribute = (name: string): boolean => this.matching.includes(name);
}

describe('the keymap', () => {
  let here: ReturnType<typeof services>;
  let looking: ViewStore;
  let target: FakeElement;
  let now = 0;
  /** What was asked of the footage; whether there is any. */
  const asked: string[] = [];
  let isFootage = true;
  const hear = (name: string) => (value?: number) =>
    void asked.push(value === undefined ? name : `${name} ${value}`);
  const transport = {
    isOpen: () => isFootage,
    ...Object.fromEntries(
      ['toggle', 'stop', 'step', 'shuttle', 'toFirst', 'toLast', 'trimHere'].map((name) => [
        name,
        hear(name),
      ]),
    ),
  };

  const press = (key: string, more: Partial<KeyboardEvent> = {}, type = 'keydown'): boolean => {
    const event = Object.assign(new Event(type, { cancelable: true }), {
      key,
      ctrlKey: false,
      metaKey: false,
      altKey: false,
      shiftKey: false,
      repeat: false,
      ...more,
    });
    Object.defineProperties(event, { target: { value: target }, timeStamp: { value: now } });
    here.page.dispatchEvent(event);
    return event.defaultPrevented;
  };
  const lift = (key: string, afterMs: number): void => {
    now += afterMs;
    press(key, {}, 'keyup');
  };

  beforeEach(() => {
    vi.stubGlobal('localStorage', fakeStorage());
    vi.stubGlobal('Element', FakeElement);
    vi.stubGlobal('window', { devicePixelRatio: 1 });
    vi.stubGlobal('matchMedia', () => ({ addEventListener: () => undefined }));
    asked.length = 0;
    isFootage = true;
    here = services(openOne, { provide: Transport, useValue: transport });
    target = new FakeElement();
    looking = here.injector.get(ViewStore);
    here.injector.get(Keymap);
  });

  it('shows while a looking key is held, and leaves it so after a tap', () => {
    press('m');
    expect(looking.hazeMap()).toBe(true);
    lift('m', 600);
    expect(looking.hazeMap()).toBe(false);
    press('m');
    lift('m', 60);
    expect(looking.hazeMap()).toBe(true);
    // A key that repeats while it is held does nothing more.
    press('x');
    press('x', { repeat: true });
    expect(looking.exaggerated()).toBe(true);
  });

  it('goes from the wipe to before and back to the wipe', () => {
    press('w');
    press('b');
    expect(looking.comparison()).toBe('before');
    lift('b', 900);
    expect(looking.comparison()).toBe('wipe');
    press('b');
    lift('b', 50);
    press('b');
    lift('b', 50);
    expect(looking.comparison()).toBe('wipe');
  });

  it('lets go of everything when the window loses the focus', () => {
    press(' ');
    press('h');
    expect([looking.panning(), looking.handlesHidden()]).toEqual([true, true]);
    here.page.defaultView.dispatchEvent(new Event('blur'));
    expect([looking.panning(), looking.handlesHidden()]).toEqual([false, false]);
    // Space never stays, however short.
    press(' ');
    lift(' ', 10);
    expect(looking.panning()).toBe(false);
  });

  it('takes letters with Caps Lock, and leaves combinations to the browser', () => {
    expect(press('W')).toBe(true);
    expect(looking.comparison()).toBe('wipe');
    expect(press('W', { shiftKey: true })).toBe(false);
    expect(press('w', { altKey: true })).toBe(false);
    expect(press('w', { ctrlKey: true })).toBe(false);
    expect(press('q')).toBe(false);
    expect(looking.comparison()).toBe('wipe');
  });

  it('lets letters be switched off, and remembers it', () => {
    const keymap = here.injector.get(Keymap);
    keymap.switchLetters(false);
    expect(press('m')).toBe(false);
    expect(press('1')).toBe(false);
    expect(press('?')).toBe(true);
    expect(keymap.helpWanted()).toBe(true);
    expect(
      services(openOne, { provide: Transport, useValue: transport }).injector.get(Keymap).lettersOn(),
    ).toBe(false);
  });

  it('leaves keys to what has the focus', () => {
    const project = here.injector.get(OpenProject);
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.5));
    target = new FakeElement(['input']);
    expect(press('m')).toBe(false);
    expect(press('z', { ctrlKey: true })).toBe(false);
    // A number's box with nothing typed in it has no steps of its own.
    target = new FakeElement(['input', 'data-keeps-steps']);
    expect(press('z', { ctrlKey: true })).toBe(true);
    expect(project.recipe().colour.saturation).toBe(0);
    expect(press('Z', { ctrlKey: true, shiftKey: true })).toBe(true);
    expect(project.recipe().colour.saturation).toBe(0.5);
    target = new FakeElement(['button']);
    expect(press(' ')).toBe(false);
    target = new FakeElement(['[role=slider]']);
    expect(press('Home')).toBe(false);
    target = new FakeElement();
    here.page.querySelector = () => ({});
    expect(press('m')).toBe(false);
  });

  it('works the reel as hands know it, and leaves its keys alone where there is none', () => {
    for (const key of ['r', 'j', 'k', 'l', ',', '.', 'Home', 'End', 'i', 'o'])
      expect(press(key), key).toBe(true);
    press(' ');
    lift(' ', 100);
    expect(looking.panning()).toBe(false);
    press(' ');
    expect(looking.panning()).toBe(true);
    lift(' ', 900);
    expect(asked).toEqual([
      'toggle',
      'shuttle -1',
      'stop',
      'shuttle 1',
      'step -1',
      'step 1',
      'toFirst',
      'toLast',
      'trimHere 0',
      'trimHere 1',
      'toggle',
    ]);
    isFootage = false;
    expect(['Home', 'End', 'j', '.'].map((key) => press(key))).toEqual([false, false, false, false]);
    expect(asked).toHaveLength(11);
  });

  it('sizes the tool in hand, zooms, and takes back what waits to be placed', () => {
    const [settings, inHand, view] = [ToolStore, SelectionStore, Viewport].map((one) =>
      here.injector.get<unknown>(one),
    ) as [ToolStore, SelectionStore, Viewport];
    const { radius } = settings.brush();
    press('l');
    expect(settings.brush().radius).toBe(radius);
    inHand.choose({ kind: 'brush' });
    press('l');
    expect(settings.brush().radius).toBeCloseTo(radius * 1.15);
    for (let i = 0; i < 200; i++) press('s');
    expect(settings.brush().radius).toBeGreaterThan(0);
    const { zoom } = view.view();
    press('+');
    expect(view.view().zoom).toBeCloseTo(zoom * 1.25);
    press('f');
    expect(view.isFitted()).toBe(true);
    inHand.place('iris');
    press('Escape');
    expect(inHand.placing()).toBeNull();
  });

  it('is the table that the help is made from: every line says what it does, no key twice', () => {
    const { bindings } = here.injector.get(Keymap);
    const keys = bindings.flatMap((one) => one.keys);
    expect(new Set(keys).size).toBe(keys.length);
    for (const one of bindings) {
      expect(one.shown).not.toBe('');
      expect(one.does.length).toBeGreaterThan(3);
      expect(Boolean(one.run ?? one.hold)).toBe(one.keys.length > 0);
    }
  });
});

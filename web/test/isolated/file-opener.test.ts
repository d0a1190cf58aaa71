import { unzipSync, zipSync } from 'fflate';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { OpenAs } from '../../src/app/model/opening';
import { LookShelf } from '../../src/app/project/recipes/look-shelf';
import { RecipeImport } from '../../src/app/project/recipes/recipe-import';
import { FileOpener } from '../../src/app/project/session/file-opener';
import { NewProjects } from '../../src/app/project/session/new-projects';
import { Notices } from '../../src/app/project/session/notices';
import { ON_REQUEST, Openings } from '../../src/app/project/session/openings';
import { ProjectOpener } from '../../src/app/project/session/project-opener';
import { ProjectScope } from '../../src/app/project/session/scope';
import { BatchRepository } from '../../src/app/storage/batch-repository';
import { BUNDLE_INDEX, ProjectBundles } from '../../src/app/storage/bundles';
import { openOne, services } from '../services';

const codec = vi.hoisted(() => ({ unzipFile: vi.fn() }));
vi.mock('../../src/app/engine/codecs/codec', () => codec);
vi.mock('../../src/app/project/session/project-opener', () => ({ ProjectOpener: class {} }));
vi.mock('../../src/app/project/session/new-projects', () => ({ NewProjects: class {} }));
vi.mock('../../src/app/project/recipes/recipe-import', () => ({ RecipeImport: class {} }));
vi.mock('../../src/app/project/recipes/look-shelf', () => ({ LookShelf: class {} }));
vi.mock('../../src/app/storage/bundles', () => ({
  BUNDLE_INDEX: 'hazy-lens-project.json',
  MAX_BUNDLE_BYTES: 4e9,
  ProjectBundles: class {},
}));

const full = (): Error => new DOMException('No room.', 'QuotaExceededError');
const file = (name: string, content: string | Uint8Array<ArrayBuffer> = 'abc'): File =>
  new File([content], name);

describe('files that are brought in', () => {
  const opened: { file: File; name: string | undefined }[] = [];
  const fakes = {
    openFile: vi.fn(async (one: File, name?: string) => void opened.push({ file: one, name })),
    openProject: vi.fn(async (_: string) => undefined),
    addToShelf: vi.fn(),
    addToBatch: vi.fn(),
    addBundle: vi.fn(),
    bringLook: vi.fn(),
    openRecipe: vi.fn(),
  };
  let opener: FileOpener;
  let notices: Notices;
  let openings: Openings;
  const said = (): string[] => notices.all().map(({ text }) => text);
  const names = (): string[] => opened.map((one) => one.file.name);
  /** Brings several in, and answers what they should become. */
  const bring = async (files: File[], as: OpenAs | null): Promise<void> => {
    const done = opener.open(files);
    await vi.waitFor(() => expect(opener.asking()).not.toBeNull());
    opener.asking()!.answer(as);
    await done;
  };

  beforeEach(() => {
    opened.length = 0;
    for (const fake of Object.values(fakes)) fake.mockClear();
    fakes.addToShelf.mockImplementation(async ({ name }: File) => ({ name: name.replace(/\.\w+$/, '') }));
    fakes.addToBatch.mockResolvedValue(undefined);
    fakes.addBundle.mockResolvedValue('new');
    fakes.bringLook.mockResolvedValue(undefined);
    codec.unzipFile.mockResolvedValue(new Map());
    const recipes = new Map<unknown, object>([
      [RecipeImport, { open: fakes.openRecipe }],
      [LookShelf, { bringIn: fakes.bringLook }],
    ]);
    const { injector } = services(
      openOne,
      { provide: ProjectOpener, useValue: { openFile: fakes.openFile, openProject: fakes.openProject } },
      { provide: NewProjects, useValue: { addToShelf: fakes.addToShelf } },
      { provide: BatchRepository, useValue: { add: fakes.addToBatch } },
      { provide: ProjectBundles, useValue: { add: fakes.addBundle } },
      { provide: ProjectScope, useValue: { get: (token: unknown) => recipes.get(token) } },
    );
    [opener, notices, openings] = [injector.get(FileOpener), injector.get(Notices), injector.get(Openings)];
  });

  it('are a picture or a clip where it is one, and nothing where there are none', async () => {
    await opener.open([]);
    await opener.open([file('roofs.jpg')]);
    expect(names()).toEqual(['roofs.jpg']);
    expect(opener.asking()).toBeNull();
  });

  it('are a recipe with its pictures, or a table of colours', async () => {
    const recipe = [file('fair.recipe.json', '{}'), file('depth.png')];
    await opener.open(recipe);
    expect(fakes.openRecipe).toHaveBeenCalledWith(recipe);
    fakes.bringLook.mockRejectedValueOnce(new Error('“dusk.cube” has no table.'));
    const table = file('dusk.cube');
    await opener.open([table]);
    expect(fakes.bringLook).toHaveBeenCalledWith(table);
    expect(said()).toEqual(['“dusk.cube” has no table.']);
    expect(opened).toEqual([]);
  });

  it('are asked about where they are several, in the order of their numbers', async () => {
    await bring([file('roof 10.jpg'), file('roof 9.jpg'), file('roof 2.jpg')], 'projects');
    expect(names()).toEqual(['roof 2.jpg']);
    expect(fakes.addToShelf.mock.calls.map(([one]) => (one as File).name)).toEqual([
      'roof 9.jpg',
      'roof 10.jpg',
    ]);
    expect(said()).toEqual(['2 projects added to the shelf: “roof 9”, “roof 10”.']);
  });

  it('become nothing where nobody says what; others that come meanwhile take their place', async () => {
    await bring([file('a.jpg'), file('b.jpg')], null);
    const first = opener.open([file('a.jpg'), file('b.jpg')]);
    await vi.waitFor(() => expect(opener.asking()?.names).toEqual(['a.jpg', 'b.jpg']));
    const { answer } = opener.asking()!;
    const second = opener.open([file('c.jpg'), file('d.jpg')]);
    await vi.waitFor(() => expect(opener.asking()?.names).toEqual(['c.jpg', 'd.jpg']));
    await first;
    answer('batch');
    expect(opener.asking()?.names).toEqual(['c.jpg', 'd.jpg']);
    expect(opened).toEqual([]);
    opener.asking()!.answer('projects');
    await second;
    expect(names()).toEqual(['c.jpg']);
    expect(opener.asking()).toBeNull();
  });

  it('go on where one of them cannot be read, which is named', async () => {
    fakes.addToShelf.mockRejectedValueOnce(new Error('“b.jpg” is damaged.'));
    await bring([file('a.jpg'), file('b.jpg'), file('c.jpg')], 'projects');
    expect(said()).toEqual(['“b.jpg” is damaged.', '1 project added to the shelf: “c”.']);
  });

  it('become one clip that is called as they are, with all of them in order inside', async () => {
    await bring([file('kite 2.jpg', 'two'), file('kite 1.jpg', 'one')], 'clip');
    const [{ file: zip, name }] = opened as [{ file: File; name: string }];
    expect([zip.name, name]).toEqual(['kite.zip', 'kite']);
    const inside = unzipSync(new Uint8Array(await zip.arrayBuffer()));
    const texts = Object.entries(inside).map(([one, bytes]) => [one, new TextDecoder().decode(bytes)]);
    expect(texts).toEqual([
      ['kite 1.jpg', 'one'],
      ['kite 2.jpg', 'two'],
    ]);
  });

  it('are no clip where they are more than is kept together', async () => {
    const large = [file('kite 1.jpg'), file('kite 2.jpg')];
    for (const one of large) Object.defineProperty(one, 'size', { value: 1.5e9 });
    await bring(large, 'clip');
    expect(opened).toEqual([]);
    expect(said()[0]).toContain('“kite” is 3000 MB of pictures');
  });

  it('join the batch, or are told that there is no room', async () => {
    const two = [file('a.jpg'), file('b.jpg')];
    await bring(two, 'batch');
    expect(fakes.addToBatch).toHaveBeenCalledWith(two);
    expect(opener.batchWanted()).toBe(true);
    fakes.addToBatch.mockRejectedValueOnce(full());
    await bring(two, 'batch');
    expect(said()[0]).toContain('Add fewer pictures at a time');
  });

  describe('that are a saved project', () => {
    const bundle = file(
      'fair.zip',
      zipSync({ [BUNDLE_INDEX]: new Uint8Array(2) }) as Uint8Array<ArrayBuffer>,
    );

    it('come back, and are opened', async () => {
      await opener.open([bundle]);
      expect(fakes.openProject).toHaveBeenCalledWith('new');
    });

    it('stay out where there is no room for them, or they are damaged', async () => {
      fakes.addBundle.mockRejectedValueOnce(full());
      await opener.open([bundle]);
      fakes.addBundle.mockRejectedValueOnce(new Error('Its index is missing.'));
      await opener.open([bundle]);
      expect(said()).toEqual([
        '“fair.zip” can’t be added: browser storage is full. Delete projects to free space.',
        '“fair.zip” can’t be opened. Its index is missing.',
      ]);
      expect(fakes.openProject).not.toHaveBeenCalled();
    });

    it('are left where something else was asked for while they were unpacked', async () => {
      codec.unzipFile.mockImplementationOnce(async () => {
        await openings.run('roofs.jpg', ON_REQUEST, async () => undefined);
        return new Map();
      });
      await opener.open([bundle]);
      expect(fakes.addBundle).not.toHaveBeenCalled();
      expect(fakes.openProject).not.toHaveBeenCalled();
    });
  });
});

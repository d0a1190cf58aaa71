import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readProject } from '../src/app/storage/rows';

const source = { id: 's', fileName: 'a.png', type: 'png', bytes: 3, width: 30, height: 20, date: null };
const row = { id: 'p', name: 'Kites', created: 1, changed: 2, source, work: {}, done: 4, thumbnail: null };

describe('a stored project', () => {
  it('is read as it is', () => {
    expect(readProject(row)).toEqual(row);
    expect(readProject({ ...row, deleted: 7, thumbnail: new Blob(['x']) })).toMatchObject({ deleted: 7 });
  });

  it('gets something plain for what is damaged and can be done without', () => {
    const damaged = { ...row, name: 7, changed: null, done: 'x', thumbnail: 'none', deleted: 'yes' };
    expect(readProject(damaged)).toMatchObject({
      name: 'Project',
      changed: 0,
      done: -1,
      thumbnail: null,
      deleted: undefined,
    });
    expect(readProject({ ...row, source: { ...source, bytes: 'many', date: 5, bits: '8' } })).toMatchObject({
      source: { bytes: 0, date: null, bits: undefined },
    });
  });

  it('is none without an id or the size of its picture, whatever else there is', () => {
    for (const other of [null, 'row', { ...row, id: 7 }, { ...row, source: null }])
      expect(readProject(other)).toBeNull();
    expect(readProject({ ...row, source: { ...source, width: 0 } })).toBeNull();
    fc.assert(
      fc.property(fc.anything(), (value) => {
        expect(() => readProject(value)).not.toThrow();
      }),
    );
  });
});

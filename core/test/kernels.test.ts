import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';
import { BLOCKS, BLOCK_BYTES } from '../src/kernels';

const folder = fileURLToPath(new URL('../kernels', import.meta.url));
const source = readdirSync(folder).map((name) => readFileSync(join(folder, name), 'utf8'));
const declared = readFileSync(fileURLToPath(new URL('../src/kernels/index.ts', import.meta.url)), 'utf8');
/** What the types of the kernels' language are here. */
const WORDS: Record<string, string> = { usize: 'i32', i32: 'i32', f32: 'f32' };

it('blocks of parameters lie as the kernels read them', () => {
  const classes = source.flatMap((text) => [
    ...text.matchAll(/@unmanaged\n(?:export )?class (\w+) \{\n([^}]*)\}/g),
  ]);
  const fieldsOf = (body: string): string[] =>
    [...body.matchAll(/^ {2}(\w+): (\w+) = 0;/gm)].map(([, name, type]) => `${name} ${WORDS[type!]}`);
  const read = Object.fromEntries(classes.map(([, name, body]) => [name, fieldsOf(body!)]));
  // An entry of a table is written with the table.
  delete read['Inner'];
  const written = Object.fromEntries(
    Object.entries(BLOCKS).map(([name, fields]) => [
      name,
      Object.entries(fields).map(([field, type]) => `${field} ${type}`),
    ]),
  );
  expect(written).toEqual(read);
  for (const fields of Object.values(written)) expect(4 * fields.length).toBeLessThanOrEqual(BLOCK_BYTES);
});

it('kernels are declared with the parameters that they have, eight at most', () => {
  const exported = new Set(
    source.flatMap((text) =>
      [...text.matchAll(/export \{([^}]+)\} from/g)].flatMap(([, names]) => names!.trim().split(/,\s*/)),
    ),
  );
  const counts = (texts: readonly string[], pattern: RegExp): Map<string, number> =>
    new Map(
      texts
        .flatMap((text) => [...text.matchAll(pattern)])
        .map(([, name, list]) => [name!, list!.split(',').length] as const)
        .filter(([name]) => exported.has(name)),
    );
  const here = counts([declared], /^ {2}(\w+)\(([^)]*)\): \w+;$/gm);
  const there = counts(source, /^export function (\w+)\(([^)]*)\)/gm);
  expect(here.size).toBe(exported.size);
  expect(Object.fromEntries(here)).toEqual(Object.fromEntries(there));
  expect([...here].filter(([, count]) => count > 8)).toEqual([]);
});

import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const root = fileURLToPath(new URL('../src', import.meta.url));
const files = readdirSync(root, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts'))
  .map((name) => join(root, name));

/** The files that a file imports, types too. */
function importsOf(file: string): string[] {
  const text = readFileSync(file, 'utf8');
  return [...text.matchAll(/from '(\.[^']+)'/g)].map(([, path]) => {
    const base = resolve(dirname(file), path!);
    return [`${base}.ts`, join(base, 'index.ts')].find((one) => files.includes(one))!;
  });
}

it('no file of the core imports itself by way of others', () => {
  const done = new Set<string>();
  const circles: string[] = [];
  const visit = (file: string, way: readonly string[]): void => {
    if (way.includes(file)) circles.push([...way.slice(way.indexOf(file)), file].map((one) => relative(root, one)).join(' > ')); // prettier-ignore
    if (done.has(file)) return;
    done.add(file);
    for (const next of importsOf(file)) visit(next, [...way, file]);
  };
  for (const file of files) visit(file, []);
  expect(files.length).toBeGreaterThan(100);
  expect(circles).toEqual([]);
});

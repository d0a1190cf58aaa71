// The licences of all that ships with the application, as one page of text.
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

const TEXT = /^(licen[cs]e|copying|notice|third-party-notices|ofl)([-.].*)?$/i;

/** Where a package lies that another one asks for, as Node.js finds it. */
function placeOf(root, name, from) {
  for (let folder = from; ; folder = join(folder, '..')) {
    const place = join(folder, 'node_modules', name);
    if (existsSync(join(place, 'package.json'))) return place;
    if (folder === root || folder === '/') return null;
  }
}

/** Packages that a workspace ships, and those that they need, by name. */
function shipped(root, workspace) {
  const found = new Map();
  const visit = (place) => {
    const about = JSON.parse(readFileSync(join(place, 'package.json'), 'utf8'));
    const key = `${about.name} ${about.version}`;
    if (found.has(key)) return;
    found.set(key, { place, about });
    for (const name of Object.keys(about.dependencies ?? {})) {
      const next = placeOf(root, name, place);
      if (next) visit(next);
    }
  };
  const { dependencies } = JSON.parse(readFileSync(join(root, workspace, 'package.json'), 'utf8'));
  for (const name of Object.keys(dependencies)) visit(placeOf(root, name, join(root, workspace)));
  return [...found.values()].sort((a, b) => a.about.name.localeCompare(b.about.name));
}

/** What a package under the MIT licence is under that brings no text of it. */
const mit = (author) => `MIT License

Copyright (c) ${author}

Permission is hereby granted, free of charge, to any person obtaining a copy of this software and associated documentation files (the "Software"), to deal in the Software without restriction, including without limitation the rights to use, copy, modify, merge, publish, distribute, sublicense, and/or sell copies of the Software, and to permit persons to whom the Software is furnished to do so, subject to the following conditions:

The above copyright notice and this permission notice shall be included in all copies or substantial portions of the Software.

THE SOFTWARE IS PROVIDED "AS IS", WITHOUT WARRANTY OF ANY KIND, EXPRESS OR IMPLIED, INCLUDING BUT NOT LIMITED TO THE WARRANTIES OF MERCHANTABILITY, FITNESS FOR A PARTICULAR PURPOSE AND NONINFRINGEMENT. IN NO EVENT SHALL THE AUTHORS OR COPYRIGHT HOLDERS BE LIABLE FOR ANY CLAIM, DAMAGES OR OTHER LIABILITY, WHETHER IN AN ACTION OF CONTRACT, TORT OR OTHERWISE, ARISING FROM, OUT OF OR IN CONNECTION WITH THE SOFTWARE OR THE USE OR OTHER DEALINGS IN THE SOFTWARE.`;

/** @throws Error for a package that says nothing of its licence. */
export function licences(root, workspace) {
  const all = shipped(root, workspace).map(({ place, about }) => {
    const licence = typeof about.license === 'string' ? about.license : about.license?.type;
    const texts = readdirSync(place).filter((name) => TEXT.test(name));
    if (!licence && texts.length === 0) throw new Error(`${about.name} says nothing of its licence.`);
    const author = typeof about.author === 'string' ? about.author : about.author?.name;
    const own = texts.map((name) => readFileSync(join(place, name), 'utf8').trim()).join('\n\n');
    return {
      head: `${about.name} ${about.version}: ${licence ?? 'see its text'}`,
      text: own || (licence === 'MIT' ? mit(author ?? `the authors of ${about.name}`) : ''),
    };
  });
  const own = readFileSync(join(root, 'LICENSE'), 'utf8').trim();
  const lines = [
    'Hazy Lens is under the MIT licence:',
    own,
    'It ships with these packages. Those under the LGPL (libvips and what it is built with, libheif, LibRaw) are files of their own under /codecs/: they can be replaced by other builds.',
    all.map(({ head }) => head).join('\n'),
    ...all.filter(({ text }) => text).map(({ head, text }) => `${'-'.repeat(80)}\n${head}\n\n${text}`),
  ];
  return `${lines.join('\n\n')}\n`;
}

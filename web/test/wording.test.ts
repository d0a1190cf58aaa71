import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  type ASTWithSource,
  type Interpolation,
  TmplAstBoundText,
  TmplAstText,
  parseTemplate,
} from '@angular/compiler';
import ts from 'typescript';
import { expect, it } from 'vitest';

const root = fileURLToPath(new URL('../src/app', import.meta.url));

/** Words and idioms that the interface does not use: each has a common one in its place. */
const THROWN_OUT =
  /\b(as it came|take back|takes? away|cannot|(take )?in hand|put (away|back|it back)|putting it together|throw of grains|inside out|elsewhere|(many|two) at once|step (back|forward)|go on|goes along|let go|stand it up|lay it flat|quarter turn|whole picture again|the present|bring in|off the shelf|there and back|beside each other|all the same|outside of|was not done|far too large|is written|band speaks|looking key|frames a second|bits a channel|please)\b/i;

/** Attributes that are read, or read aloud. */
const READ_ALOUD =
  /^(aria-(label|description|roledescription|valuetext)|matTooltip|label|placeholder|title|alt)$/;
const WORD = /[a-z]{2}/i;
const UNITS = /\b(px|ms|fps|MP)\b/g;

interface TemplateNode {
  children?: object[];
  branches?: object[];
  cases?: object[];
  groups?: object[];
  empty?: object | null;
  attributes?: { name: string; value: string }[];
}

/** What of a template a person may read: its texts, the values of its attributes, and what its bindings quote. */
const textsOf = (html: string): string[] =>
  [...html.matchAll(/>([^<>]+)<|"([^"]*)"|'([^'\n]*)'/g)].map(([, text, value, quoted]) =>
    (text ?? value ?? quoted)!.replace(/\{\{.*?\}\}/gs, ' '),
  );

/** The strings of a source file, its templates in parts. */
function stringsOf(name: string, text: string): string[] {
  if (name.endsWith('.html')) return textsOf(text);
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node)) return;
    if (ts.isPropertyAssignment(node) && node.name.getText() === 'styles') return;
    if (ts.isPropertyAssignment(node) && node.name.getText() === 'template')
      return void found.push(...textsOf(node.initializer.getText()));
    if (ts.isStringLiteralLike(node) || ts.isTemplateHead(node) || ts.isTemplateMiddleOrTemplateTail(node))
      found.push(node.text);
    ts.forEachChild(node, visit);
  };
  visit(ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true));
  return found;
}

it('the interface keeps to the words that people use', () => {
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((name) =>
    /\.(ts|html)$/.test(name),
  );
  const strings = files.flatMap((name) =>
    stringsOf(name, readFileSync(join(root, name), 'utf8')).map((text) => `${name}: ${text.trim()}`),
  );
  expect(strings.length).toBeGreaterThan(3000);
  // A binding may speak to code in words of its own.
  expect(strings.filter((one) => THROWN_OUT.test(one) && !/[=!&|(]{2}|\(\)/.test(one))).toEqual([]);
});

/** What of a template’s nodes a person may read that does not come from the catalogue. */
function ownTexts(nodes: readonly object[]): string[] {
  return nodes.flatMap((node) => {
    const {
      children = [],
      branches = [],
      cases = [],
      groups = [],
      empty,
      attributes = [],
    } = node as TemplateNode;
    const texts = [
      ...(node instanceof TmplAstText ? [node.value] : []),
      ...(node instanceof TmplAstBoundText
        ? ((node.value as ASTWithSource).ast as Interpolation).strings
        : []),
      ...attributes.filter(({ name }) => READ_ALOUD.test(name)).map(({ value }) => value),
    ];
    const inner = [...children, ...branches, ...cases, ...groups, ...(empty ? [empty] : [])];
    return [...texts.filter((text) => WORD.test(text.replace(UNITS, ''))), ...ownTexts(inner)];
  });
}

it('templates take what people read from the catalogue', () => {
  const read = (name: string): string => readFileSync(join(root, name), 'utf8');
  const templates = readdirSync(root, { recursive: true, encoding: 'utf8' }).flatMap((name) => {
    if (name.endsWith('.html')) return [{ name, html: read(name) }];
    const [, html] = /template: `([^`]*)`/.exec(name.endsWith('.ts') ? read(name) : '') ?? [];
    return html === undefined ? [] : [{ name, html }];
  });
  expect(templates.length).toBeGreaterThan(70);
  const found = templates.flatMap(({ name, html }) =>
    ownTexts(parseTemplate(html, name).nodes).map((text) => `${name}: ${text.trim()}`),
  );
  expect(found).toEqual([]);
});

import { UNSEEN } from '../recipe/foreign-text';

/**
 * Names that are all different, also where capitals are not told apart: of those that are alike, the later ones get a
 * number.
 */
export function distinctNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  const isFree = (name: string): boolean => !taken.has(name.toLowerCase());
  const wanted = new Set(names.map((name) => name.toLowerCase()));
  return names.map((name) => {
    let own = name;
    // A number that another one came with is left to that.
    for (let i = 2; !isFree(own) || (own !== name && wanted.has(own.toLowerCase())); i++)
      own = `${name} ${i}`;
    taken.add(own.toLowerCase());
    return own;
  });
}

/** Most characters of a file name: with what is added to it, systems take it. */
const MAX_NAME = 120;
/** Names that are devices on some systems. */
const DEVICES = /^(con|prn|aux|nul|com\d|lpt\d)(?=\.|$)/i;

/** A file name without what systems do not take; one that says nothing is called a picture. */
export function safeName(name: string): string {
  const plain = name
    .slice(0, 4 * MAX_NAME)
    .replace(UNSEEN, ' ')
    .replace(/[\\/:*?"<>|]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[\s.]+|[\s.]+$/g, '');
  const short = Array.from(plain).slice(0, MAX_NAME).join('').trim();
  return short.replace(DEVICES, '$1 picture') || 'picture';
}

/** What a pattern of file names can hold. */
export const PATTERN_WORDS = ['{name}', '{date}', '{recipe}', '{number}'] as const;

/** What a file is made of, as far as its name says. */
export interface NamedSource {
  /** What the picture is called, without an ending. */
  name: string;
  /** The name of the source's file, which no result gets; empty where nothing is known. */
  file: string;
  recipe: string;
}

/** The name of a file without its ending. */
export const withoutEnding = (name: string): string => name.replace(/\.[^.]+$/, '');

/**
 * The name of a file by a pattern, without its ending; never that of its source.
 * @param day on which it is written; `{date}` is that as year-month-day. @param number its place among others.
 */
export function nameByPattern(
  pattern: string,
  { name, file, recipe }: NamedSource,
  day: Date,
  number = '01',
): string {
  const two = (value: number): string => String(value).padStart(2, '0');
  const words: Record<string, string> = {
    name,
    recipe,
    number,
    date: `${day.getFullYear()}-${two(day.getMonth() + 1)}-${two(day.getDate())}`,
  };
  // A word that comes in by a name is left as it is.
  const own = safeName(pattern.replace(/\{(name|date|recipe|number)\}/g, (_, word: string) => words[word]!));
  const isSource = file !== '' && safeName(withoutEnding(file)).toLowerCase() === own.toLowerCase();
  return isSource ? `${own} edit` : own;
}

/** The same for many files: each name is its own, whatever the pictures are called. */
export function namesByPattern(pattern: string, sources: readonly NamedSource[], day: Date): string[] {
  const digits = Math.max(2, String(sources.length).length);
  return distinctNames(
    sources.map((source, i) => nameByPattern(pattern, source, day, String(i + 1).padStart(digits, '0'))),
  );
}

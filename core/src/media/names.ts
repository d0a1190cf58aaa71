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

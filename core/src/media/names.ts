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

/** What names a file among the assets: this field of recipes and looks, wherever it lies. */
const FIELD = 'image';

/** All names of assets in something that was stored: a recipe, work with its variants, or the patches of a step. */
export function assetNames(value: unknown): string[] {
  const names: string[] = [];
  const waiting: unknown[] = [value];
  while (waiting.length > 0) {
    const one = waiting.pop();
    if (typeof one !== 'object' || one === null) continue;
    const { path, value: put } = one as { path?: unknown; value?: unknown };
    // A patch of the field itself has the name for its value.
    if (typeof path === 'string' && path.endsWith(`/${FIELD}`) && typeof put === 'string') names.push(put);
    for (const [key, inner] of Object.entries(one))
      if (key === FIELD && typeof inner === 'string') names.push(inner);
      else waiting.push(inner);
  }
  return names;
}

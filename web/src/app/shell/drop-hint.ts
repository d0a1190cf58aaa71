/** What a drop will do, from what browsers tell before it: the number of files and their types. */
export function dropHint(
  { items }: DataTransfer,
  { takesElements, isBatch }: { takesElements: boolean; isBatch: boolean },
): string {
  const types = [...items].filter(({ kind }) => kind === 'file').map(({ type }) => type);
  if (isBatch) return 'Drop to add to the batch';
  const [first = ''] = types;
  if (types.length === 1 && first === 'application/json') return 'Drop to apply the recipe to this project';
  if (types.length > 1) return `Drop ${types.length} files: you choose how they open`;
  if (first.startsWith('video/')) return 'Drop to open the clip as a new project';
  if (takesElements && first.startsWith('image/'))
    return 'Drop a cut-out on the picture to add it as an element; anything else opens as a new project';
  if (first.startsWith('image/')) return 'Drop to open as a new project';
  return 'Drop a picture, clip or folder to open it, or a recipe or look to apply it';
}

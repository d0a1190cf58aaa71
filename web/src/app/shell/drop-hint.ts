import { shellWords } from '../words/shell';
/** What a drop will do, from what browsers tell before it: the number of files and their types. */
export function dropHint(
  { items }: DataTransfer,
  { takesElements, isBatch }: { takesElements: boolean; isBatch: boolean },
): string {
  const types = [...items].filter(({ kind }) => kind === 'file').map(({ type }) => type);
  if (isBatch) return shellWords.dropToAddToTheBatch;
  const [first = ''] = types;
  if (types.length === 1 && first === 'application/json') return shellWords.dropToApplyTheRecipe;
  if (types.length > 1) return shellWords.dropFilesYouChooseHow(types.length);
  if (first.startsWith('video/')) return shellWords.dropToOpenTheClip;
  if (takesElements && first.startsWith('image/'))
    return 'Drop a cut-out on the picture to add it as an element; anything else opens as a new project';
  if (first.startsWith('image/')) return shellWords.dropToOpen;
  return shellWords.dropAPictureClip;
}

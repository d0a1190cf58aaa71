import * as z from 'zod';

/** The name of a file that lies beside the recipe: a relative path that stays below the recipe's folder. */
export const companionPath = z
  .string()
  .min(1)
  .max(255)
  .refine(
    (path) => !/^[/\\]|\\|^[A-Za-z]:|\p{Cc}/u.test(path) && !path.split('/').includes('..'),
    'must be a file name relative to the recipe',
  );

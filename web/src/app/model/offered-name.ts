import { safeName } from '@hazy-lens/core';

/** The name that a file is offered under: the project's, but never the source's own, so that nobody writes over that. */
export function offeredName(project: string, sourceFile: string): string {
  const same = (a: string, b: string): boolean => safeName(a).toLowerCase() === safeName(b).toLowerCase();
  return same(project, sourceFile.replace(/\.[^.]+$/, '')) ? `${project} edit` : project;
}

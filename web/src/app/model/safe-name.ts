/** A file name without what systems do not take. */
export function safeName(name: string): string {
  return (
    name
      // eslint-disable-next-line no-control-regex
      .replace(/[\\/:*?"<>|\u0000-\u001f]/g, ' ')
      .replace(/\s+/g, ' ')
      .trim()
      .slice(0, 120) || 'picture'
  );
}

/** The name that a file is offered under: the project's, but never the source's own, so that nobody writes over that. */
export function offeredName(project: string, sourceFile: string): string {
  const same = (a: string, b: string): boolean => safeName(a).toLowerCase() === safeName(b).toLowerCase();
  return same(project, sourceFile.replace(/\.[^.]+$/, '')) ? `${project} edit` : project;
}

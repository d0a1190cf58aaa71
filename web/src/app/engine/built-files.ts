/** Where the build put what is fetched by name: each name has a hash in it, so that no tab ever gets another version's. */
export interface BuiltFiles {
  kernels: string;
  /** The folder of the codec worker and its libraries. */
  codecs: string;
}

let current: BuiltFiles | null = null;

/** Called once at the start: by the page with what its head says, by a worker with what its owner passes on. */
export function setBuiltFiles(files: BuiltFiles): void {
  current = files;
}

/** @throws Error before they are set. */
export function builtFiles(): BuiltFiles {
  if (!current) throw new Error('The names of the built files aren’t set.');
  return current;
}

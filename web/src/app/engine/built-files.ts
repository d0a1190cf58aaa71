/** Where the build put what is fetched by name: each name has a hash in it, so that no tab ever gets another version's. */
export interface BuiltFiles {
  kernels: string;
  /** The folder of the codec worker and its libraries. */
  codecs: string;
}

let told: BuiltFiles | null = null;

/** As the page says in its head; who starts a worker that needs them tells it. */
export function tellBuiltFiles(files: BuiltFiles): void {
  told = files;
}

/** @throws Error where nobody told. */
export function builtFiles(): BuiltFiles {
  if (!told) throw new Error('Nobody told where the built files are.');
  return told;
}

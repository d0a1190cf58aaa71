/** Where the build put what is fetched by name: each name has a hash in it, so that no tab ever gets another version's. */
export interface BuiltFiles {
  kernels: string;
  /** The folder of the codec worker and its libraries. */
  codecs: string;
}

let told: BuiltFiles | null = null;

/** As the page itself says; a worker, which has no page, must be told first. */
export const builtFiles = (): BuiltFiles =>
  (told ??= JSON.parse(
    document.querySelector<HTMLMetaElement>('meta[name="built-files"]')!.content,
  ) as BuiltFiles);

/** Tells a worker what the page says. */
export function tellBuiltFiles(files: BuiltFiles): void {
  told = files;
}

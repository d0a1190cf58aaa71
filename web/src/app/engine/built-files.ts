/** Where the build put what the page fetches by name: each name has a hash in it, so that no tab ever gets another version's. */
interface BuiltFiles {
  kernels: string;
  /** The folder of the codec worker and its libraries. */
  codecs: string;
}

/** As the page itself says. */
export const builtFiles = (): BuiltFiles =>
  JSON.parse(document.querySelector<HTMLMetaElement>('meta[name="built-files"]')!.content) as BuiltFiles;

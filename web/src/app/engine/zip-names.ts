/** The names of what a zip holds stand at its end, as they are: far more than those of our own files take. */
const MAX_DIRECTORY_BYTES = 1_000_000;

/** True where a file is a zip by its name, and holds one of this name. */
export async function zipHolds(file: File, name: string): Promise<boolean> {
  return /\.zip$/i.test(file.name) && (await file.slice(-MAX_DIRECTORY_BYTES).text()).includes(name);
}

import type { FilmPart, StoredFilm, StoredFilms } from '../storage/films';

/** The parts of one film as they are made: kept in the browser as far as it has room, else in memory. */
export class FilmParts {
  private readonly made: (Blob | null)[];
  private isKept: boolean;
  private last: Promise<void> = Promise.resolve();
  /** Pictures that its parts hold. */
  pictures: number;

  /** @param film null for one that is not kept. @param made what is there already. */
  constructor(
    private readonly stored: Pick<StoredFilms, 'begin' | 'putPart'>,
    private readonly film: StoredFilm | null,
    made: readonly FilmPart[],
  ) {
    this.made = made.map(({ file }) => file);
    this.pictures = picturesIn(made);
    this.isKept = film !== null;
  }

  async begin(): Promise<void> {
    if (this.film) await this.orInMemory(() => this.stored.begin(this.film!));
  }

  /** Takes the next part, when the one before it is kept: two of them are under way at most. */
  async add(pictures: number, part: Promise<Blob>): Promise<void> {
    // Told of when it is waited for.
    part.catch(() => undefined);
    await this.last;
    const index = this.made.push(null) - 1;
    this.pictures += pictures;
    this.last = part.then(async (file) => {
      this.made[index] = file;
      if (this.isKept)
        await this.orInMemory(() => this.stored.putPart(this.film!.id, index, { pictures, file }));
    });
    this.last.catch(() => undefined);
  }

  /** All of them. */
  async all(): Promise<Blob[]> {
    await this.last;
    return this.made.map((part) => part!);
  }

  /** Without room the film is made all the same; only a window that goes takes it along. */
  private async orInMemory(keep: () => Promise<void>): Promise<void> {
    try {
      await keep();
    } catch {
      this.isKept = false;
    }
  }
}

export function picturesIn(parts: readonly FilmPart[]): number {
  return parts.reduce((sum, { pictures }) => sum + pictures, 0);
}

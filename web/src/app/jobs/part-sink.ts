import type { FilmPart, StoredFilm, ClipRepository } from '../storage/clip-repository';

/** Takes the parts of a film as they are made. */
export interface PartSink {
  /** Pictures that they hold. */
  readonly pictures: number;
  /** Goes on after the last that was made; one that could not be made is not among them. */
  begin(): Promise<void>;
  /** Takes the next part, when the one before it has its place: two of them are under way at most. */
  add(pictures: number, part: Promise<Blob>): Promise<void>;
  /** Ends when all have theirs. @throws what went wrong with one. */
  settled(): Promise<void>;
}

/** Parts that are handed on one by one, as pictures into a folder. */
export class StreamedParts implements PartSink {
  private last: Promise<void> = Promise.resolve();

  /**
   * @param write takes the part that begins with a picture.
   * @param pictures those that come before the first that is made.
   */
  constructor(
    private readonly write: (first: number, file: Blob) => Promise<void>,
    public pictures = 0,
  ) {}

  async begin(): Promise<void> {
    this.last = Promise.resolve();
  }

  async add(pictures: number, part: Promise<Blob>): Promise<void> {
    part.catch(() => undefined);
    await this.last;
    const first = this.pictures;
    this.pictures += pictures;
    this.last = part.then(
      (file) => this.write(first, file),
      (error: Error) => {
        this.pictures = first;
        throw error;
      },
    );
    this.last.catch(() => undefined);
  }

  settled(): Promise<void> {
    return this.last;
  }
}

/** The parts of one film as they are made: kept in the browser as far as it has room, else in memory. */
export class StoredParts implements PartSink {
  private readonly made: (Blob | null)[];
  private isKept: boolean;
  private last: Promise<void> = Promise.resolve();
  /** Pictures that its parts hold. */
  pictures: number;

  /** @param film null for one that is not kept. @param made what is there already. */
  constructor(
    private readonly stored: Pick<ClipRepository, 'begin' | 'putPart'>,
    private readonly film: StoredFilm | null,
    made: readonly FilmPart[],
  ) {
    this.made = made.map(({ file }) => file);
    this.pictures = picturesIn(made);
    this.isKept = film !== null;
  }

  async begin(): Promise<void> {
    this.last = Promise.resolve();
    if (this.film) await this.orInMemory(() => this.stored.begin(this.film!));
  }

  async add(pictures: number, part: Promise<Blob>): Promise<void> {
    // Told of when it is waited for.
    part.catch(() => undefined);
    await this.last;
    const index = this.made.push(null) - 1;
    const before = this.pictures;
    this.pictures += pictures;
    this.last = part.then(
      async (file) => {
        this.made[index] = file;
        if (this.isKept)
          await this.orInMemory(() => this.stored.putPart(this.film!.id, index, { pictures, file }));
      },
      (error: Error) => {
        this.made.length = index;
        this.pictures = before;
        throw error;
      },
    );
    this.last.catch(() => undefined);
  }

  settled(): Promise<void> {
    return this.last;
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

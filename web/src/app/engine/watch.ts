/** What was to do something broke down, or said nothing for too long: the same may go well once more. */
export class LostError extends Error {}

/** Does something; once more where what was to do it was lost. */
export async function onceMore<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof LostError)) throw error;
    return work();
  }
}

/**
 * Counts the seconds in which something that is waited for says nothing. They are counted one by one: those in which the
 * machine sleeps, or the page stands still itself, are none.
 */
export class Watch {
  private timer: ReturnType<typeof setInterval> | undefined;
  private silent = 0;

  /** @param patience seconds until `lose` is called. */
  constructor(
    private readonly patience: number,
    private readonly lose: () => void,
  ) {}

  /** Something is waited for from now on, unless it was before. */
  begin(): void {
    if (this.timer !== undefined) return;
    this.silent = 0;
    this.timer = setInterval(() => {
      if (++this.silent < this.patience) return;
      this.stop();
      this.lose();
    }, 1000);
  }

  /** It gets on. */
  heard(): void {
    this.silent = 0;
  }

  /** Nothing is waited for. */
  stop(): void {
    clearInterval(this.timer);
    this.timer = undefined;
  }
}

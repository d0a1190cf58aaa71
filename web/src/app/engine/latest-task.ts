/** Does one piece of work after the other, always the newest that is wanted: what was asked for in between is left out. */
export class LatestTask<T extends object> {
  private wanted: T | null = null;
  private isWorking = false;
  private isOver = false;

  /** @param work what fails in it is not told. @param close is called once, when nothing is worked on any more. */
  constructor(
    private readonly work: (wish: T) => Promise<void>,
    private readonly close: () => void,
  ) {}

  submit(wish: T): void {
    this.wanted = wish;
    if (!this.isWorking && !this.isOver) void this.run();
  }

  /** Nothing more is wanted. */
  end(): void {
    this.isOver = true;
    this.wanted = null;
    if (!this.isWorking) this.close();
  }

  private async run(): Promise<void> {
    this.isWorking = true;
    while (this.wanted) {
      const wish: T = this.wanted;
      this.wanted = null;
      await this.work(wish).catch(() => undefined);
    }
    this.isWorking = false;
    if (this.isOver) this.close();
  }
}

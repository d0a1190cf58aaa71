import { type Remote, type releaseProxy, wrap } from 'comlink';
import { sendable } from './sendable';
import { LostError, Watch, onceMore } from './watch';
import { filesWords } from '../words/files';

/** What a caller may say of a call. */
export interface CallOptions {
  /** Ends the wait for an answer; what the worker makes of it is dropped. */
  signal?: AbortSignal | undefined;
}

export interface WorkerOptions {
  /** Seconds in which the worker may say nothing while it is asked. What takes longer tells that it gets on, see `getsOn`. */
  patience?: number;
  /** Each call stands by itself: what a lost worker owed is asked of the next one, once. */
  isStateless?: boolean;
}

/** The functions of a worker as this page calls them: each gives a promise. */
export type Calls<Api> = Omit<Remote<Api>, typeof releaseProxy | 'then'>;

const BROKEN = 'a part of Hazy Lens couldn’t be started; reload the page';
const SILENT = filesWords.aPartOfHazyLensStood;
const PATIENCE = 30;

/**
 * One worker of this page. It is started when first called. Where it breaks down, cannot be loaded, or stands still, it is
 * ended, and all that is asked of it fails with a LostError; the next call starts another. Nothing that was delivered stays
 * reachable from here.
 */
export class WorkerClient<Api> {
  private worker: { thread: Worker; remote: Remote<Api> } | null = null;
  /** How to fail each call that is still waiting. */
  private readonly waiting = new Set<(reason: unknown) => void>();
  private readonly watch: Watch;
  private readonly isStateless: boolean;
  /** The functions of the worker, without options. */
  readonly call: Calls<Api> = this.with({});

  constructor(
    private readonly start: () => Worker,
    { patience = PATIENCE, isStateless = false }: WorkerOptions = {},
  ) {
    this.watch = new Watch(patience, () => this.end(new LostError(SILENT)));
    this.isStateless = isStateless;
  }

  /** The functions of the worker, for calls with options. */
  with({ signal }: CallOptions): Calls<Api> {
    return new Proxy({} as Calls<Api> & object, {
      get: (_, name) => {
        // What is awaited must not be taken for a promise.
        if (name === 'then') return undefined;
        return (...args: unknown[]) => {
          const ask = (): Promise<unknown> => this.ask(name, args, signal);
          return this.isStateless ? onceMore(ask) : ask();
        };
      },
    });
  }

  /** Ends the worker; whoever waits for it hears the reason. Called again, it starts another. */
  end(reason: unknown = new DOMException('The work was ended.', 'AbortError')): void {
    const { worker } = this;
    this.worker = null;
    worker?.thread.terminate();
    this.watch.stop();
    for (const fail of [...this.waiting]) fail(reason);
  }

  private async ask(name: PropertyKey, args: unknown[], signal?: AbortSignal): Promise<unknown> {
    signal?.throwIfAborted();
    const { remote } = (this.worker ??= this.started());
    const run = Reflect.get(remote as object, name) as (...args: unknown[]) => Promise<unknown>;
    return new Promise((resolve, reject) => {
      const settled = (): void => {
        this.waiting.delete(fail);
        if (this.waiting.size === 0) this.watch.stop();
        signal?.removeEventListener('abort', aborted);
      };
      const fail = (reason: unknown): void => {
        settled();
        reject(reason as Error);
      };
      const aborted = (): void => fail(signal!.reason);
      this.waiting.add(fail);
      this.watch.begin();
      signal?.addEventListener('abort', aborted);
      run(...args.map(sendable)).then((value) => {
        settled();
        resolve(value);
      }, fail);
    });
  }

  private started(): { thread: Worker; remote: Remote<Api> } {
    const thread = this.start();
    thread.addEventListener('error', ({ message }) => {
      if (this.worker?.thread === thread) this.end(new LostError(message || BROKEN));
    });
    thread.addEventListener('message', () => {
      if (this.worker?.thread === thread) this.watch.heard();
    });
    return { thread, remote: wrap<Api>(thread) };
  }
}

/** In a worker: tells the page that what it asked for gets on. */
export const getsOn = (): void => postMessage(null);

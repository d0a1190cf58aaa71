import { type Remote, wrap } from 'comlink';

/**
 * What a worker offers, as functions of this page. Where it breaks down, or cannot be loaded, all that is asked of it
 * fails with a sentence: left alone it would never answer.
 */
export function remoteOf<T>(worker: Worker): Remote<T> {
  const remote = wrap<T>(worker);
  const broken = new Promise<never>((_, reject) => {
    worker.addEventListener('error', ({ message }) =>
      reject(new Error(message || 'a part of Hazy Lens could not be started; please reload the page')),
    );
  });
  broken.catch(() => undefined);
  return new Proxy(remote as object, {
    get: (functions, name) => {
      // What is awaited must not be taken for a promise.
      if (name === 'then') return undefined;
      const call = Reflect.get(functions, name) as (...args: unknown[]) => Promise<unknown>;
      return (...args: unknown[]) => Promise.race([broken, call(...args)]);
    },
  }) as Remote<T>;
}

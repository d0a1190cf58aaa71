/** What a job is made of: taken when it is ordered, made ready meanwhile, and held until the job lets go of it. */
export interface Held<T> {
  readonly ready: Promise<T>;
  letGo(): void;
}

/** Makes something ready and holds on to what it rests on. @param letGo called once. */
export function held<T>(ready: Promise<T>, letGo: () => void): Held<T> {
  // What is wrong with it is said when its turn comes.
  ready.catch(() => undefined);
  let isHeld = true;
  return {
    ready,
    letGo: () => {
      if (isHeld) letGo();
      isHeld = false;
    },
  };
}

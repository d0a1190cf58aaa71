import { DestroyRef, type Signal, inject, signal } from '@angular/core';
import type { Observable } from 'dexie';

/**
 * What is stored, as a signal that follows it for as long as the component lives. A storage that cannot be read has been
 * reported at the start: what was there before stays.
 */
export function signalFrom<T>(stored: Observable<T>, before: T): Signal<T> {
  const value = signal(before);
  const watched = stored.subscribe({ next: (now) => value.set(now), error: () => undefined });
  inject(DestroyRef).onDestroy(() => watched.unsubscribe());
  return value.asReadonly();
}

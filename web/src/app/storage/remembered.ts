type Kind = 'localStorage' | 'sessionStorage';

/** What is remembered where the browser keeps nothing, or no longer takes anything: for this visit. */
const visit: Record<Kind, Map<string, string>> = { localStorage: new Map(), sessionStorage: new Map() };

/** A setting of this browser, or of this tab alone; null where there is none. */
export function remembered(key: string, kind: Kind = 'localStorage'): string | null {
  const own = visit[kind].get(key);
  if (own !== undefined) return own;
  try {
    return globalThis[kind].getItem(key);
  } catch {
    return null;
  }
}

export function remember(key: string, value: string, kind: Kind = 'localStorage'): void {
  try {
    globalThis[kind].setItem(key, value);
    visit[kind].delete(key);
  } catch {
    visit[kind].set(key, value);
  }
}

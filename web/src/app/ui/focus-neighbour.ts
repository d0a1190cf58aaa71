/** Moves the focus from a row that is about to go to the one after it, else to the one before. */
export function focusNeighbour(row: HTMLElement, list: string, rows: string): void {
  const all = [...(row.closest(list)?.querySelectorAll<HTMLElement>(rows) ?? [])];
  const at = all.indexOf(row);
  (all[at + 1] ?? all[at - 1])?.focus();
}

/** True where the clipboard is a text box's. */
export function isForText({ target }: Event): boolean {
  return target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement;
}

/** The words of tools, by the parts that show them. */
export const workspaceWords = {
  // mend-tool
  delete: (kind: string): string => `delete ${kind}`,

  // split-comparison
  compareBlurs: 'compare blurs',
  blur: (kind: string): string => `${kind} blur`,

  // variant-view
  newVariant: 'new variant',
  switchTo: (name: string): string => `switch to ${name}`,
  renameVariant: 'rename variant',
  deleteVariant: 'delete variant',

  // white-picker
  thatSpotIsTooDark: 'That spot is too dark or too bright to tell. Click a grey one.',
  whiteBalance: 'white balance',
};

/** The words of the window: bar, route, menus, messages, by the parts that show them. */
export const shellWords = {
  // drop-hint
  dropToAddToTheBatch: 'Drop to add to the batch',
  dropToApplyTheRecipe: 'Drop to apply the recipe to this project',
  dropFilesYouChooseHow: (count: number): string => `Drop ${count} files: you choose how they open`,
  dropToOpenTheClip: 'Drop to open the clip as a new project',
  dropToOpen: 'Drop to open as a new project',
  dropAPictureClip: 'Drop a picture, clip or folder to open it, or a recipe or look to apply it',

  // first-hints
  dismiss: (text: string): string => `Dismiss: ${text}`,
  dragTheLinesBetween:
    'Drag the lines: between the white ones the picture is clear, beyond the coloured ones hazy.',
  theProfileIsTheSame: 'The profile is the same focus seen from the side. Its knots can be dragged, too.',
  holdTheseToLook:
    'Hold these to look: the original, the blur exaggerated, the haze map. Tap to keep one on.',

  // guide
  guide: 'Guide',
  page: 'Page',
  close: 'Close',
  pages: 'Pages',
  licences: 'Licences',

  // history-menu
  history: 'History',
  historyAllSteps: 'History: all steps',
  showEarlierSteps: 'Show earlier steps',
  earliestStepKept: 'Earliest step kept',
  asOpened: 'As opened',

  // key-help
  keyboardShortcuts: 'Keyboard shortcuts',
  holdBXMC: 'Hold B, X, M, C or H to peek; tap to toggle.',
  singleKeyShortcuts: 'Single-key shortcuts',

  // notice-stack
  dismissLabel: 'Dismiss',

  // open-several
  openPicturesAs: (count: number): string => `Open ${count} pictures as`,
  openAs: 'Open as',
  files: 'Files',
  cancel: 'Cancel',
  open: 'Open',
  separateProjects: 'Separate projects',
  eachPictureWithARecipe: 'Each picture with a recipe of its own, on the shelf',
  oneClip: 'One clip',
  eachPictureAFrame: 'Each picture a frame, in the order of the names',
  batch: 'Batch',
  theCurrentRecipeForAll: 'The current recipe for all of them',

  // panel-sheet
  panelHeight: 'Panel height',
  aThird: 'a third',
  twoThirds: 'two thirds',

  // queue-strip
  exportOf: (fileName: string): string => `Export of ${fileName}`,
  resume: 'Resume',
  pause: 'Pause',
  unfinishedExport: (fileName: string): string => `Unfinished export: ${fileName}`,
  ofFramesRendered: (made: number, frames: number): string => `${made} of ${frames} frames rendered`,
  progressOf: (fileName: string): string => `Progress of ${fileName}`,
  unfinished: 'Unfinished',
  savePartialClip: 'Save partial clip',
  discard: 'Discard',
  exported: (fileName: string, frames: string): string => `Exported “${fileName}”: ${frames}.`,
  exportOfFailedRenderedFrames: (fileName: string, reason: string): string =>
    `Export of “${fileName}” failed: ${reason}. Rendered frames are kept.`,

  // raw-preview
  previewFromTheCamera: 'Preview from the camera',

  // route
  route: 'Route',
  turnOff: (step: string): string => `Turn off ${step}`,
  turnOn: (step: string): string => `Turn on ${step}`,

  // shell
  thisWindowCantUseAll:
    'This window can’t use all cores: rendering takes longer, and only 8-bit JPEG, PNG and WebP can be exported. To avoid this, open the address that the Hazy Lens server prints in a current Chromium or Firefox.',
  wasAddedAsAnElement: (name: string): string => `“${name}” was added as an element.`,
  openAsAProject: 'Open as a project',

  // step-summaries
  customLook: 'custom look',
  blackAndWhite: 'black and white',
  plusMore: (set: string): string => `${set} + more`,
  noFocus: 'no focus',
  hold: (hold: number): string => `hold ${hold}`,
  backAndForth: 'back and forth',

  // steps
  source: 'Source',
  noPicture: 'no picture',
  tidy: 'Tidy',
  focus: 'Focus',
  blur: 'Blur',
  colour: 'Colour',
  finish: 'Finish',
  pace: 'Pace',
  output: 'Output',

  // top-bar
  hazyLens: 'Hazy Lens',
  menu: 'Menu',
  projectsAndDemos: 'Projects and demos',
  shelf: 'Shelf',
  notSaved: 'Not saved',
  compare: 'Compare',
  hidePanels: 'Hide panels',
  hidePanelsP: 'Hide panels (P)',
  theme: (theme: string): string => `Theme: ${theme}`,
  keyboardShortcutsHint: 'Keyboard shortcuts (?)',
  export: 'Export',
  noneOpen: 'none open',
  projects: (name: string): string => `Projects: ${name}`,
  variants: 'Variants',
  thisBrowserHasNoRoom:
    'This browser has no room for the project. Export it, or save its recipe, before you leave.',
  theProjectIsOpen: 'The project is open in another tab, so changes here aren’t saved.',
  before: 'Before',
  theOriginalPictureHoldB: 'The original picture (hold B)',
  after: 'After',
  theFinishedPicture: 'The finished picture',
  wipe: 'Wipe',
  beforeAndAfter: 'Before and after with a draggable divider (W)',
  undo: (label: string): string => `Undo: ${label}`,
  nothingToUndo: 'Nothing to undo',
  redo: (label: string): string => `Redo: ${label}`,
  nothingToRedo: 'Nothing to redo',

  // update-notifier
  aNewVersionIsReady:
    'A new version is ready. Your project is saved. Update now, or close all tabs to update later.',
  updateNow: 'Update now',
  theNewVersionIsTakingOver: 'The new version is taking over…',
  aNewVersionOfHazy: 'A new version of Hazy Lens is running. This tab reloads when its exports are done.',
  reloadNow: 'Reload now',
  aNewVersionOfHazyLens:
    'A new version of Hazy Lens is running. This tab has unsaved changes: export them, then reload.',

  // variants-menu
  variantsNamedVersionsOfThisProject: 'Variants: named versions of this project',
  newVariant: 'New variant',
  deleteVariant: 'Delete variant',
  showTwo: 'Show two',
  showFour: 'Show four',
  showOne: 'Show one',

  // workspace
  skip: 'Skip',
  skipToThePicture: 'Skip to the picture',
  skipToThePanel: 'Skip to the panel',
  stage: 'Stage',
  showPanels: 'Show panels',
  showPanelsP: 'Show panels (P)',
  developing: 'Developing',
  opening: 'Opening',
  panel: (step: string): string => `${step} panel`,
  howThisWorks: 'How this works',
  recipeCopiedPasteIntoAnother: 'Recipe copied. Paste into another project or a file.',
};

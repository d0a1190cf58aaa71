/** The words of projects: their messages and the names of their edits, by the parts that show them. */
export const projectWords = {
  // footage
  thePreviousFrameIsShownInstead: (reason: string): string =>
    `${reason} The previous frame is shown instead.`,
  frameRate: 'frame rate',
  frameBrightnessCouldntBe: (reason: string): string => `Frame brightness couldn’t be measured: ${reason}.`,

  // keyframes
  deleteKey: (label: string): string => `delete ${label} key`,
  addKey: (label: string): string => `add ${label} key`,
  moveKeys: 'move keys',
  moveKey: 'move key',
  addKeyName: 'add key',
  copyKeys: 'copy keys',
  deleteKeyName: 'delete key',
  deleteKeys: 'delete keys',
  key: (ease: string): string => `key: ${ease}`,
  sounding: (number: number): string => `sounding ${number}`,

  // look-shelf
  look: 'Look',
  lookNamed: (name: string): string => `look: ${name}`,

  // recipe-files
  theZipHoldsFarMore: 'The zip holds far more than a recipe and its pictures.',
  thereIsNoRecipeAmong: 'There is no recipe among these files.',
  theZipHoldsNo: (recipe: string): string => `The zip holds no ${recipe}.`,
  theFileIsTooLarge: 'The file is too large for a recipe.',

  // recipe-import
  copiedRecipe: 'copied recipe',
  theCopiedRecipe: 'The copied recipe',
  theLookOfTheCopied:
    'The look of the copied recipe is applied. Crop, touch-ups, subjects, elements, strokes and depth map stay with their own picture.',
  applyTheseToo: 'Apply these too',
  anotherProjectWasOpenedMeanwhile: 'Another project was opened meanwhile.',
  recipe: (name: string): string => `recipe “${name}”`,
  cantBeAppliedYourProject: (name: string, reason: string): string =>
    `“${name}” can’t be applied. ${reason}. Your project is unchanged.`,
  theRecipeNeedsSelectBoth: (name: string): string =>
    `The recipe needs “${name}”. Select both files, or the saved zip.`,

  // recipe-shelf
  recipeName: 'Recipe',

  // autosave
  browserStorageIsFull:
    'Browser storage is full: your latest changes aren’t saved, but remain in this window. ',
  yourLatestChangesCant: (reason: string): string =>
    `Your latest changes can’t be saved (${reason}). Keep this window open and export your work.`,

  // other-tabs
  isOpenInAnotherTab: (name: string): string =>
    `“${name}” is open in another tab, so changes here aren’t saved. Make a copy to save them.`,
  makeCopy: 'Make copy',
  isClosedInTheOther: (name: string): string =>
    `“${name}” is closed in the other tab. This tab saves it now.`,
  wasDeletedInAnotherTab: (name: string): string =>
    `“${name}” was deleted in another tab. Restore within a day to keep it.`,
  restore: 'Restore',

  // export-input
  thereIsNoPictureOpen: 'There is no picture open.',
  thereIsNoFootageOpen: 'There is no footage open.',
  theFootage: 'the footage is not in this browser. Open it again',

  // open-project
  cantApply: (label: string): string => `Can’t apply “${label}”`,
  yourProjectIsUnchanged: (what: string, reason: string): string =>
    `${what}: ${reason}. Your project is unchanged.`,
  thisStepIsDamaged: (reason: string): string =>
    `This step is damaged: it can’t be undone or redone. ${reason} Your project is unchanged.`,

  // own-depth
  theFileHasADepth: 'The file has a depth map inside: blur can follow the distance.',
  useDepthMap: 'Use depth map',
  theDepthMapIn: (fileName: string): string => `the depth map in ${fileName}`,
  depthMapOfTheFile: 'depth map of the file',

  // project-opener
  savedProjectsCantBeLoaded: (reason: string): string =>
    `Saved projects can’t be loaded (${reason}). You can keep working, but nothing will be saved. Reload to try again.`,
  unpacksToMoreThanGb: (name: string, gigabytes: number): string =>
    `“${name}” unpacks to more than ${gigabytes} GB.`,
  cantBeAddedBrowserStorage: (name: string): string =>
    `“${name}” can’t be added: browser storage is full. Delete projects to free space.`,
  cantBeOpened: (name: string, sentence: string): string => `“${name}” can’t be opened. ${sentence}`,
  addFewerPictures: 'Add fewer pictures at a time, delete projects, or use the command line over the folder.',
  addingToTheShelfOf: (name: string, number: number, count: number): string =>
    `Adding “${name}” to the shelf: ${number} of ${count}…`,
  addedToTheShelf: (projects: string, names: string): string => `${projects} added to the shelf: ${names}.`,
  frames: 'Frames',
  isTooLargeToStore: (name: string): string =>
    `“${name}” is too large to store here, so the project uses the file on disk. Leave the file in place; you’ll be asked for access on reopening.`,
  isMbOfPicturesMore: (name: string, megabytes: number, most: number): string =>
    `“${name}” is ${megabytes} MB of pictures, more than can be kept together here (${most} MB). Make a clip of them, or use the command line.`,
  cantBeSavedBrowserStorage: (fileName: string): string =>
    `“${fileName}” can’t be saved: browser storage is full. You can edit and export now, and it is saved as soon as there is room. Delete projects to free space.`,
  couldntBeKept: (fileName: string, reason: string): string =>
    `“${fileName}” couldn’t be kept in this browser (${reason}). You can work on it and export it.`,
  itsPictureIsNoLonger: 'its picture is no longer in this browser. Open the picture again.',
  edits: (stepsBack: number): string => `${stepsBack} edits`,
  couldntBeOpened: (name: string, reason: string): string => `“${name}” couldn’t be opened: ${reason}.`,
  usesOnDiskAllowAccess: (name: string, file: string): string =>
    `“${name}” uses “${file}” on disk. Allow access to open the project.`,
  allowAccess: 'Allow access',
  hasUnsavedChangesOpeningDiscardsThem: (name: string, other: string): string =>
    `“${name}” has unsaved changes. Opening “${other}” discards them.`,
  discardAndOpen: 'Discard and open',
  theCopyCouldntBeKept: (reason: string): string => `The copy couldn’t be kept: ${reason}.`,
  picture: 'Picture',

  // report-errors
  browserStorageIsFullNamed: (noRoom: string): string => `Browser storage is full. ${noRoom}`,
  theActionFailed: (reason: string): string => `The action failed: ${reason}`,

  // elements
  newElement: 'new element',
  imageOfTheElement: 'image of the element',
  theSubjectIsntCutOut: 'The subject isn’t cut out yet: draw over it first.',
  elementFromASubject: 'element from a subject',
  pasteElement: 'paste element',
  aPictureCanHaveElements: (most: number): string =>
    `A picture can have ${most} elements. Delete some first.`,
  picturesBestWithTransparentPlaces: 'Pictures, best with transparency',

  // followed-subject
  noStrokesYetPaintOver: 'No strokes yet. Paint over the subject first.',
  theSubjectIsntCutOutYet: 'The subject isn’t cut out yet. Scribble over it first.',
  theSubjectIsOutside: 'The subject is outside this frame. Go to a frame that shows it.',

  // following
  atFrame: (frame: number): string => `at frame ${frame}`,
  fromFrameTo: (from: number, to: number): string => `from frame ${from} to ${to}`,
  couldntBeFollowed: (label: string, reason: string): string => `“${label}” couldn’t be followed: ${reason}.`,
  wasHiddenItsKeysGo: (name: string, frames: string): string =>
    `${name} was hidden ${frames}: its keys go straight across the gap. Check that they fit.`,
  wasLostAtFrameEarlier: (name: string, frame: number): string =>
    `${name} was lost at frame ${frame}. Earlier keys are kept. Correct the position and follow again.`,
  followingWasUnsureAtFrame: (frame: number, name: string): string =>
    `Following was unsure at frame ${frame}, perhaps at others: check ${name} where its line on the reel is thin.`,
  follow: (label: string): string => `follow ${label}`,

  // matte-cutter
  theSubjectCouldntBeCut: (reason: string): string =>
    `The subject couldn’t be cut out (${reason}). Your project is unchanged.`,

  // mend-preview
  theTouchUpsCouldnt: (reason: string): string =>
    `The touch-ups couldn’t be rendered (${reason}). Your project is safe.`,
};

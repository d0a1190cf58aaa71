export { crc32 } from './bytes';
export type { HeifDecoded, HeifError, HeifHandle, HeifImage, HeifLibrary, HeifPixels } from './heif';
export {
  type Metadata,
  NO_METADATA,
  hasWrongChecksum,
  insertMetadata,
  insertPngChunk,
  jpegSegments,
  readExif,
  readMetadata,
  tagSrgb,
  asPremultiplied,
  tagTiff,
} from './containers';
export { type MetadataChoice, exifTexts, readOrientation } from './exif';
export { exportedMetadata } from './metadata';
export { distinctNames, nameByPattern, namesByPattern, safeName, withoutEnding } from './names';
export {
  type ClipSettings,
  clipSettingsSchema,
  type ExportPreset,
  type ExportSettings,
  type ExportSize,
  defaultExportSettings,
  exportPresetSchema,
  exportSettingsSchema,
  exportSize,
  parsePresets,
  presetsText,
} from './export-preset';
export {
  CLIP_FORMATS,
  type ClipFormat,
  type EncoderKind,
  bitrateFor,
  clipFormatOf,
  clipSize,
  holdsAlpha,
  quantizerFor,
} from './clip-formats';
export { ZipError, type ZipEntry, unpacked, zipEntries } from './zip';
export {
  type RawLibrary,
  type RawOptions,
  type RawPreview,
  RAW_EXTENSIONS,
  RAW_NAME,
  rawReason,
  developRaw,
} from './raw';
export { type FileKind, hasNoPixels, isTiffCut, kindOf, profileInBoxes } from './kinds';
export { STILL_FORMATS, type StillFormat, stillFormatFor, stillFormatOf } from './still-formats';
export { isSrgbName, isSrgbProfile, profileName } from './icc-profile';
export { greyTiff } from './grey-tiff';
export { displayP3Profile, linearSrgbProfile } from './profiles';
export { type ToDisplayP3, isP3Profile, toDisplayP3 } from './rgb-profile';
export { sizeProblem } from './limits';
export { depthInBoxes } from './depth-boxes';
export { type DepthInside, depthInside, nearerBrighter } from './depth-inside';

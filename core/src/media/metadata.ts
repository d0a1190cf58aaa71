import { type Metadata, NO_METADATA } from './containers';
import { type Exported, type MetadataChoice, exportedExif } from './exif';

/** What XMP says of places and serial numbers, by the names of its properties (XMP specification part 2; Exif for XMP). */
const PLACE = [
  'exif:GPS\\w+',
  'photoshop:(?:City|State|Country)',
  'Iptc4xmpCore:(?:Location|CountryCode)',
  'Iptc4xmpExt:Location(?:Created|Shown)',
  '(?:aux|exifEX):(?:\\w*SerialNumber)',
];
/** Small pictures inside. */
const PICTURES = ['xmp:Thumbnails', 'xmpGImg:\\w+', 'xapGImg:\\w+', 'xap:Thumbnails'];
/** How the source's file lay, which the result's does not. */
const OF_FILE = [
  'tiff:Orientation',
  'tiff:ImageWidth',
  'tiff:ImageLength',
  'exif:PixelXDimension',
  'exif:PixelYDimension',
  // Files that followed the picture in its container, of which the result has none.
  '(?:Container|Device|Profile|DepthMap):\\w+',
];

/** What goes along with an exported picture, as it is wanted: small pictures of the source never do. */
export function exportedMetadata({ exif, xmp }: Metadata, made: Exported, choice: MetadataChoice): Metadata {
  if (choice === 'none') return NO_METADATA;
  const names = [...PICTURES, ...OF_FILE, ...(choice === 'without-place' ? PLACE : [])];
  return {
    exif: exif && exportedExif(exif, made, choice),
    xmp: xmp === null ? null : withoutProperties(xmp, names),
  };
}

/** An XMP packet without some properties, whether they are written as elements or as attributes. */
function withoutProperties(xmp: string, names: readonly string[]): string {
  const any = `(?:${names.join('|')})`;
  return xmp
    .replace(new RegExp(`<(${any})(?:\\s[^>]*)?/>`, 'g'), '')
    .replace(new RegExp(`<(${any})(?:\\s[^>]*)?>[\\s\\S]*?</\\1>`, 'g'), '')
    .replace(new RegExp(`\\s${any}\\s*=\\s*(?:"[^"]*"|'[^']*')`, 'g'), '');
}

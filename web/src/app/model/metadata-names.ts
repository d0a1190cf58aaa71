import type { MetadataChoice } from '@hazy-lens/core';

/** What goes along of a source's metadata, as people choose it. */
export const METADATA_NAMES: readonly { id: MetadataChoice; name: string; says: string }[] = [
  {
    id: 'all',
    name: 'All',
    says: 'Everything in the source’s EXIF and XMP but maker notes and small pictures',
  },
  { id: 'without-place', name: 'Without place', says: 'All but GPS, place names and serial numbers' },
  { id: 'none', name: 'None', says: 'No EXIF and no XMP' },
];

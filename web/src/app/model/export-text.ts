import {
  type ExportPreset,
  type ExportSettings,
  type ExportSize,
  STILL_FORMATS,
  type StillFormat,
} from '@hazy-lens/core';

/** The format of export settings. */
export const stillFormatNamed = (id: ExportSettings['kind']): StillFormat =>
  STILL_FORMATS.find((format) => format.id === id)!;

/** How sizes can be asked for, as people choose among them. */
export const SIZE_NAMES: readonly { by: ExportSize['by']; name: string }[] = [
  { by: 'full', name: 'Full size' },
  { by: 'long-edge', name: 'Long edge' },
  { by: 'short-edge', name: 'Short edge' },
  { by: 'megapixels', name: 'Megapixels' },
  { by: 'percent', name: 'Percent' },
];

function sizeText(size: ExportSize): string {
  switch (size.by) {
    case 'full':
      return 'full size';
    case 'long-edge':
      return `long edge ${size.px} px`;
    case 'short-edge':
      return `short edge ${size.px} px`;
    case 'megapixels':
      return `${size.mp} MP`;
    case 'percent':
      return `${size.percent}%`;
  }
}

/** Export settings in a few words, such as “JPEG 92%, long edge 2400 px”. */
export function exportText({ kind, quality, bits, space, size, sharpening }: ExportSettings): string {
  const { label, isLossy, has16Bit } = stillFormatNamed(kind);
  return [
    label + (isLossy ? ` ${quality}%` : '') + (has16Bit && bits !== null ? ` ${bits}-bit` : ''),
    ...(space === 'display-p3' ? ['P3'] : []),
    sizeText(size),
    ...(sharpening > 0 ? [`sharpening ${Math.round(100 * sharpening)}%`] : []),
  ].join(', ');
}

/** True where settings are those of a preset. */
export function isPreset(settings: ExportSettings, preset: ExportPreset): boolean {
  return (Object.keys(settings) as (keyof ExportSettings)[]).every(
    (key) => JSON.stringify(settings[key]) === JSON.stringify(preset[key]),
  );
}

import type { BlurKind } from '@hazy-lens/core';

/** The kinds of blur as people choose them. */
export const BLUR_KINDS: readonly { kind: BlurKind; label: string; says: string }[] = [
  {
    kind: 'gaussian',
    label: 'Gaussian',
    says: 'Soft all over, without a shape: quick, and kind to skin and sky.',
  },
  {
    kind: 'lens',
    label: 'Lens',
    says: 'As through glass: every point becomes a disc of the aperture’s shape.',
  },
  { kind: 'motion', label: 'Motion', says: 'As if the camera had moved along a direction.' },
  { kind: 'spin', label: 'Spin', says: 'As if the camera had turned about a point of the picture.' },
  { kind: 'zoom', label: 'Zoom', says: 'As if the camera had come nearer while the picture was taken.' },
];

/** True for a colour profile that is of sRGB itself: its pixels are taken as they are. */
export const isSrgbProfile = (profile: Uint8Array): boolean => isSrgbName(profileName(profile));

/** True for a name that profiles of sRGB itself give themselves. */
export const isSrgbName = (name: string): boolean =>
  /^(sRGB|c2$)/.test(name) && !/^sRGB.*(linear|gamma 1)/i.test(name);

/** Name that a colour profile gives itself in its `desc` tag (ICC.1:2022, 9.2.41; ICC.1:2001 for older ones). */
export function profileName(profile: Uint8Array): string {
  try {
    const view = new DataView(profile.buffer, profile.byteOffset, profile.byteLength);
    for (let i = 0; i < Math.min(100, view.getUint32(128)); i++) {
      const entry = 132 + 12 * i;
      if (view.getUint32(entry) === 0x64657363) return described(view, view.getUint32(entry + 4));
    }
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
  }
  return 'unnamed profile';
}

function described(view: DataView, at: number): string {
  const isUnicode = view.getUint32(at) === 0x6d6c7563;
  const [from, length, step] = isUnicode
    ? [at + view.getUint32(at + 24), view.getUint32(at + 20), 2]
    : [at + 12, view.getUint32(at + 8) - 1, 1];
  let text = '';
  for (let i = 0; i < Math.min(length, 160); i += step)
    text += String.fromCharCode(isUnicode ? view.getUint16(from + i) : view.getUint8(from + i));
  return text.replace(/\p{Cc}/gu, '').trim() || 'unnamed profile';
}

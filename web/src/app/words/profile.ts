/** The words of the profile, by the parts that show them. */
export const profileWords = {
  // profile-rail
  profileOfTheField: 'Profile of the field',
  profile: 'Profile',
  direction: 'Direction',
  steepTheBlurStartsAbruptly: 'Steep: the blur starts abruptly enough to show a seam',
  profileNamed: (name: string): string => `Profile: ${name}`,
  whereTheBlurSets: (firm: number, cut: number): string =>
    `Where the blur sets in fastest: pixels of blur per pixel of picture. Soft below ${firm}, a hard edge from ${cut}`,
  profileDirection: 'Profile direction',
  pxOutPxOfBlur: (out: string, blur: string): string => `${out} px out, ${blur} px of blur`,
  knotOfTheProfile: 'knot of the profile',
  deleteKnot: 'delete knot',
  profileNamedName: (knot: string): string => `profile: ${knot}`,

  // rail-axis
  start: 'Start',
  rim: 'Rim',
  outerEdge: 'Outer edge',
  knotOfTheProfileNamed: (number: number): string => `Knot ${number} of the profile`,

  // scale-gauge
  scaleGauge: 'Scale gauge',
  noScale: 'no scale',
  setScale1To: (scale: number): string => `Set scale 1 to ${scale}`,
  setTheScaleTo1: (scale: number): string => `Set the scale to 1 : ${scale}`,
  aCameraThatLooksDown: ', a camera that looks down by 25°',
  theModelScaleSuggested: (distance: number, horizon: string, focal: number, fNumber: number): string =>
    `The model scale that this blur suggests. Assumes ${distance} m to the focus${horizon}, and a ${focal} mm lens at f/${fNumber}.`,
};

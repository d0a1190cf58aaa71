import { BALLOONS, BALLOON_SIZE, balloon, balloonCard, cutOut } from './balloon';
import { BufferTarget, CanvasSource, Mp4OutputFormat, Output } from 'mediabunny';
import { CLIPS } from './clips';
import { type ThinLens, discRadius } from './lens';
import { Footage, type Scene } from './footage';
import { Studio, type Shot } from './light';
import { town } from './town';
import { type Viewpoint, type ViewTruth, seenFrom, truthOf } from './viewpoint';
import { glasshouses } from './glasshouses';
import { fair } from './fair';

const SCENES: Record<string, (scale: number, without?: number | null) => Shot> = {
  'tram-loop': town,
  glasshouses,
  'night-fair': fair,
};

/** Balloons over the town, the farthest first: where and how wide, in shares of the picture, and their values of the depth map. */
const MEADOW = [
  { cloth: 'plum', at: [0.64, 0.2], wide: 0.075, depth: 0.27 },
  { cloth: 'lagoon', at: [0.42, 0.42], wide: 0.16, depth: 0.6 },
  { cloth: 'ember', at: [0.19, 0.5], wide: 0.28, depth: 1.2 },
] as const;

declare global {
  interface Window {
    /** Renders a scene; the bytes are then read band by band with `take`. */
    develop(name: string, scale: number, quick: boolean): { width: number; height: number };
    /** The same without the thing that is seen at a place (fractions, y down). */
    developWithout(name: string, scale: number, quick: boolean, at: [number, number]): void;
    /** Places (fractions, y down) of the things that are seen, the largest first, and their shares of the picture. */
    thingsIn(name: string): { at: [number, number]; share: number }[];
    /** A scene from another viewpoint, and what is true of that. */
    survey(name: string, scale: number, from: Viewpoint): { width: number; height: number; truth: ViewTruth };
    /** The same view sharp (`lens` null) or through a thin lens; says how large its discs are, see `discRadius`. */
    photograph(
      name: string,
      scale: number,
      lens: ThinLens | null,
    ): { width: number; height: number; disc: number };
    /** The town with balloons over it, see `MEADOW`, or without. Says how large the discs are. */
    hang(
      scale: number,
      lens: ThinLens | null,
      hasBalloons: boolean,
    ): { width: number; height: number; disc: number; depths: number[] };
    /** One of these balloons alone, where it hangs: straight RGBA, from the bottom row up. */
    cutBalloon(scale: number, index: number): { width: number; height: number };
    take(what: 'colours' | 'depth' | 'film', from: number, to: number): string;
    /** Develops the still that a clip is made of, ready for its frames. */
    shoot(name: string, scale: number, quick: boolean): { frames: number; width: number; height: number };
    /** Films frames from..to of the clip as MP4; `pumps` lets its brightness go up and down. */
    film(from: number, to: number, fps: number, bitrate: number, pumps: boolean): Promise<number>;
    /** One frame as a JPEG in base64, at a share of its size. */
    shootFrame(frame: number, scale: number, quality: number): Promise<string>;
    /** Where what is at each place of frame 0 lies in a frame, and the brightness of each when it pumps. */
    truth(): { motion: number[][]; gains: number[] };
    /** Traces a balloon of a cloth, whose pixels are the colours then, straight RGBA; says how large they are. */
    balloon(cloth: string): { width: number; height: number };
    /** The outline of the thing seen at a place (fractions, y down): 1 inside, from the top row down. */
    outline(name: string, at: [number, number], width: number, height: number): number[];
  }
}

/** Of what a lens is compared with: edges as even as those that the lens sees in focus, or they would count as a difference. */
const SHARP_LOOKS = 6;

let developed: { colours: Uint8Array; depth: Uint8Array; film?: Uint8Array };
let footage: Footage;
let scene: Scene;
let surveyed: { name: string; shot: Shot } | null = null;
/** Brightness of the pumping clip: slow waves and a jump here and there, never the same twice. */
const pumping = (frame: number): number =>
  1 + 0.07 * Math.sin(frame * 0.9) + 0.05 * Math.sin(frame * 2.3 + 1) + (frame % 17 === 5 ? 0.09 : 0);
let isPumping = false;

window.develop = (name, scale, quick) => {
  const shot = SCENES[name]!(scale);
  developed = developShot(name, shot, quick);
  return { width: shot.width, height: shot.height };
};

window.developWithout = (name, scale, quick, at) => {
  const shot = SCENES[name]!(scale);
  const thing = thingAt(name, at, Math.round(shot.width), Math.round(shot.height)).wanted;
  developed = developShot(name, SCENES[name]!(scale, thing), quick);
};

window.thingsIn = (name) => {
  const [width, height] = [900, 600];
  const seen = new Studio().things(SCENES[name]!(width / SCENES[name]!(1).width), width, height);
  const found = new Map<number, { x: number; y: number; count: number }>();
  seen.forEach((thing, i) => {
    if (thing === 0) return;
    const one = found.get(thing) ?? { x: 0, y: 0, count: 0 };
    one.x += i % width;
    one.y += height - 1 - Math.floor(i / width);
    one.count++;
    found.set(thing, one);
  });
  return [...found.values()]
    .sort((a, b) => b.count - a.count)
    .map(({ x, y, count }) => ({
      at: [x / count / width, y / count / height],
      share: count / (width * height),
    }));
};

window.survey = (name, scale, from) => {
  // A scene takes longer to build than to look at.
  surveyed = surveyed?.name === name ? surveyed : { name, shot: SCENES[name]!(scale) };
  const shot = seenFrom(surveyed.shot, from);
  developed = developShot(name, shot, true, 1);
  const { width, height } = shot;
  return { width, height, truth: truthOf(shot, developed.depth) };
};

window.photograph = (name, scale, lens) => {
  const shot = { ...SCENES[name]!(scale), grain: 0, looks: SHARP_LOOKS };
  developed = new Studio().render(
    shot,
    (done) => console.log(`${name}: ${Math.round(done * 100)} %`),
    1,
    lens,
  );
  const { width, height, camera } = shot;
  return { width, height, disc: lens ? discRadius(lens, camera, height) : 0 };
};

const balloonIn = ({ width, height, exposure }: Shot, index: number): Float32Array => {
  const { cloth, at, wide } = MEADOW[index]!;
  const hung = { cloth, at: [at[0] * width, at[1] * height], wide: wide * width } as const;
  return balloonCard(hung, width, height, exposure);
};

window.hang = (scale, lens, hasBalloons) => {
  const shot = { ...town(scale), grain: 0, looks: SHARP_LOOKS };
  const { width, height, camera } = shot;
  const cards = hasBalloons ? MEADOW.map(({ depth }, i) => ({ light: balloonIn(shot, i), depth })) : [];
  const report = (done: number): void => console.log(`balloons: ${Math.round(done * 100)} %`);
  developed = new Studio().render(shot, report, 1, lens, cards);
  const disc = lens ? discRadius(lens, camera, height) : 0;
  return { width, height, disc, depths: MEADOW.map(({ depth }) => depth) };
};

window.cutBalloon = (scale, index) => {
  const shot = town(scale);
  const { width, height, exposure } = shot;
  developed = { colours: cutOut(balloonIn(shot, index), exposure), depth: new Uint8Array(0) };
  return { width, height };
};

function developShot(
  name: string,
  shot: Shot,
  quick: boolean,
  depthShare = 0.5,
): { colours: Uint8Array; depth: Uint8Array } {
  if (quick) {
    // A look at the scene with a few passes instead of all, at the same total light.
    const kept = shot.passes.filter((pass, i) => pass.kind === 'lamps' || i % 8 === 0);
    const all = shot.passes.filter((pass) => pass.kind === 'far').length;
    const far = kept.filter((pass) => pass.kind === 'far').length;
    shot.passes = kept.map((pass) =>
      pass.kind === 'far'
        ? { ...pass, tint: pass.tint.map((c) => (c * all) / far) as unknown as typeof pass.tint }
        : pass,
    );
  }
  return new Studio().render(shot, (done) => console.log(`${name}: ${Math.round(done * 100)} %`), depthShare);
}

window.shoot = (name, scale, quick) => {
  const view = CLIPS[name]!(scale);
  const still = developShot(name, view.shot, quick);
  scene = { ...view, still, gain: (frame) => (isPumping ? pumping(frame) : 1) };
  developed = still;
  footage = new Footage(scene);
  return { frames: view.frames, width: view.width, height: view.height };
};

window.film = async (from, to, fps, bitrate, pumps) => {
  isPumping = pumps;
  const target = new BufferTarget();
  const output = new Output({ format: new Mp4OutputFormat({ fastStart: 'in-memory' }), target });
  const source = new CanvasSource(footage.canvas, { codec: 'avc', bitrate, keyFrameInterval: 2 });
  output.addVideoTrack(source, { frameRate: fps });
  await output.start();
  for (let frame = from; frame < to; frame++) {
    footage.draw(frame);
    await source.add((frame - from) / fps, 1 / fps);
  }
  await output.finalize();
  developed.film = new Uint8Array(target.buffer!);
  return developed.film.length;
};

window.shootFrame = async (frame, scale, quality) => {
  isPumping = false;
  footage.draw(frame);
  const small = new OffscreenCanvas(scene.width * scale, scene.height * scale);
  const context = small.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(footage.canvas, 0, 0, small.width, small.height);
  const blob = await small.convertToBlob({ type: 'image/jpeg', quality });
  return base64(new Uint8Array(await blob.arrayBuffer()));
};

window.truth = () => ({
  motion: Array.from({ length: scene.frames }, (_, frame) => footage.motion(frame)),
  gains: Array.from({ length: scene.frames }, (_, frame) => Number(pumping(frame).toFixed(5))),
});

/** The number of the thing that is seen at a place, and which is seen where. */
function thingAt(
  name: string,
  [fx, fy]: [number, number],
  width: number,
  height: number,
): { wanted: number; at: (x: number, y: number) => number } {
  const seen = new Studio().things(SCENES[name]!(width / SCENES[name]!(1).width), width, height);
  const at = (x: number, y: number): number => seen[(height - 1 - y) * width + x]!;
  const wanted = at(Math.floor(fx * width), Math.floor(fy * height));
  if (wanted === 0) throw new Error(`There is no thing at ${fx}, ${fy} of ${name}.`);
  return { wanted, at };
}

window.outline = (name, place, width, height) => {
  const { wanted, at } = thingAt(name, place, width, height);
  return Array.from({ length: width * height }, (_, i) =>
    at(i % width, Math.floor(i / width)) === wanted ? 1 : 0,
  );
};

window.balloon = (cloth) => {
  developed = { colours: balloon(BALLOONS[cloth]!), depth: new Uint8Array() };
  return BALLOON_SIZE;
};

window.take = (what, from, to) => base64(developed[what]!.subarray(from, to));

function base64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 32768) text += String.fromCharCode(...bytes.subarray(i, i + 32768));
  return btoa(text);
}

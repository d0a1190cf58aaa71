import { Studio, type Shot } from './light';
import { town } from './town';
import { glasshouses } from './glasshouses';
import { fair } from './fair';

const SCENES: Record<string, (scale: number) => Shot> = {
  'tram-loop': town,
  glasshouses,
  'night-fair': fair,
};

declare global {
  interface Window {
    /** Renders a scene; the bytes are then read band by band with `take`. */
    develop(name: string, scale: number, quick: boolean): { width: number; height: number };
    take(what: 'colours' | 'depth', from: number, to: number): string;
    /** The outline of the thing seen at a place (fractions, y down): 1 inside, from the top row down. */
    outline(name: string, at: [number, number], width: number, height: number): number[];
  }
}

let developed: { colours: Uint8Array; depth: Uint8Array };

window.develop = (name, scale, quick) => {
  const shot = SCENES[name]!(scale);
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
  developed = new Studio().render(shot, (done) => console.log(`${name}: ${Math.round(done * 100)} %`));
  return { width: shot.width, height: shot.height };
};

window.outline = (name, [fx, fy], width, height) => {
  const seen = new Studio().things(SCENES[name]!(width / SCENES[name]!(1).width), width, height);
  const at = (x: number, y: number): number => seen[(height - 1 - y) * width + x]!;
  const wanted = at(Math.floor(fx * width), Math.floor(fy * height));
  if (wanted === 0) throw new Error(`There is no thing at ${fx}, ${fy} of ${name}.`);
  return Array.from({ length: width * height }, (_, i) =>
    at(i % width, Math.floor(i / width)) === wanted ? 1 : 0,
  );
};

window.take = (what, from, to) => {
  const bytes = developed[what].subarray(from, to);
  let text = '';
  for (let i = 0; i < bytes.length; i += 32768) text += String.fromCharCode(...bytes.subarray(i, i + 32768));
  return btoa(text);
};

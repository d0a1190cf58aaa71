import * as THREE from 'three';
import { type ThinLens, discRadius, placeInAperture, throughAperture } from './lens';
import { Random } from './random';

/** One source of light in one pass; passes add up in linear light. */
export type Pass =
  | { kind: 'far'; direction: THREE.Vector3; tint: readonly [number, number, number] }
  | { kind: 'lamps'; lamps: { at: THREE.Vector3; tint: readonly [number, number, number]; reach: number }[] };

export interface Shot {
  scene: THREE.Scene;
  camera: THREE.PerspectiveCamera;
  passes: Pass[];
  /** Looks at each pass of light, each shifted by a part of a pixel of its own; one where it is not said. */
  looks?: number;
  /** Haze of the air: colour, and the distance in metres at which it hides all but 1/e. */
  air: { tint: readonly [number, number, number]; distance: number };
  sky: { low: readonly [number, number, number]; high: readonly [number, number, number] };
  /** Multiplies linear light before the tone curve. */
  exposure: number;
  /** Noise of the sensor, in 8-bit levels (standard deviation at mid grey). */
  grain: number;
  /** Centre and half size in metres of what casts shadows. */
  shadowCentre: THREE.Vector3;
  shadowReach: number;
  width: number;
  height: number;
}

/** A sun of some degrees across and a sky dome, as directions for shadow passes. */
export function daylight(
  sun: THREE.Vector3,
  sunTint: readonly [number, number, number],
  skyTint: readonly [number, number, number],
  sunPasses: number,
  skyPasses: number,
): Pass[] {
  const random = new Random(7);
  const passes: Pass[] = [];
  for (let i = 0; i < sunPasses; i++) {
    const spread = 0.022;
    const direction = sun
      .clone()
      .normalize()
      .add(
        new THREE.Vector3(
          random.between(-spread, spread),
          random.between(-spread, spread),
          random.between(-spread, spread),
        ),
      );
    passes.push({
      kind: 'far',
      direction,
      tint: sunTint.map((c) => c / sunPasses) as [number, number, number],
    });
  }
  for (let i = 0; i < skyPasses; i++) {
    // Golden-angle spiral, uniform over the dome.
    const height = (i + 0.5) / skyPasses;
    const around = i * 2.399963;
    const flat = Math.sqrt(1 - height * height);
    passes.push({
      kind: 'far',
      direction: new THREE.Vector3(flat * Math.cos(around), height + 0.06, flat * Math.sin(around)),
      tint: skyTint.map((c) => (2 * c) / skyPasses) as [number, number, number],
    });
  }
  return passes;
}

export const FULL_SCREEN = `varying vec2 vUv; void main() { vUv = position.xy * 0.5 + 0.5; gl_Position = vec4(position.xy, 0.0, 1.0); }`;

/** Exposed linear light as encoded values. */
export const TONE_CURVE = `
vec3 developed(vec3 c) {
  c = (c * (2.51 * c + 0.03)) / (c * (2.43 * c + 0.59) + 0.14);
  c = mix(vec3(dot(c, vec3(0.2126, 0.7152, 0.0722))), c, 0.88);
  return mix(12.92 * c, 1.055 * pow(max(c, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c));
}`;

/** What stands before a scene, flat and facing the lens: light and coverage of the picture's size, from the bottom row up. */
export interface Card {
  /** Premultiplied scene light and coverage, red, green, blue and coverage for each pixel. */
  light: Float32Array;
  /** Its value of the depth map, nearest / distance, which may be more than 1. */
  depth: number;
}

const MAX_CARDS = 3;

/** What one view in one pass adds to the sum: its light through the air, its share of the air's and the sky's, and of the cards'. */
const ADD = `
precision highp float;
varying vec2 vUv;
uniform sampler2D light;
uniform sampler2D depth;
uniform float near, far, airDistance, views, share;
uniform vec3 airTint, skyLow, skyHigh;
uniform sampler2D cards[${MAX_CARDS}];
uniform vec2 shifts[${MAX_CARDS}];
uniform int cardCount;
vec4 over(vec4 card, vec3 below) { return vec4(card.rgb * share + (1.0 - card.a) * below, 1.0); }
void main() {
  float z = texture2D(depth, vUv).x;
  float d = near * far / (far - z * (far - near));
  vec3 c = mix(airTint * share, texture2D(light, vUv).rgb, exp(-d / airDistance));
  if (d > far * 0.98) c = mix(skyLow, skyHigh, smoothstep(0.75, 1.0, vUv.y)) * share;
  if (cardCount > 0) c = over(texture2D(cards[0], vUv + shifts[0]), c).rgb;
  if (cardCount > 1) c = over(texture2D(cards[1], vUv + shifts[1]), c).rgb;
  if (cardCount > 2) c = over(texture2D(cards[2], vUv + shifts[2]), c).rgb;
  gl_FragColor = vec4(c / views, 1.0);
}`;

const DEVELOP = `
precision highp float;
varying vec2 vUv;
uniform sampler2D light;
uniform float exposure, grain;
uint mixBits(uint x) { x ^= x >> 16; x *= 0x7feb352du; x ^= x >> 15; x *= 0x846ca68bu; x ^= x >> 16; return x; }
float white(uvec2 p, uint k) { return float(mixBits(p.x + mixBits(p.y + k * 977u))) / 4294967296.0; }
${TONE_CURVE}
void main() {
  vec3 c = developed(texture2D(light, vUv).rgb * exposure);
  uvec2 p = uvec2(gl_FragCoord.xy);
  vec3 n = vec3(white(p, 1u) + white(p, 2u) - white(p, 3u) - white(p, 4u), white(p, 5u) + white(p, 6u) - white(p, 7u) - white(p, 8u), white(p, 9u) + white(p, 10u) - white(p, 11u) - white(p, 12u));
  float lum = dot(n, vec3(0.333));
  c += (0.55 * n + 0.8 * lum) * grain / 255.0;
  gl_FragColor = vec4(clamp(c, 0.0, 1.0), 1.0);
}`;

const DEPTH_OUT = `
precision highp float;
varying vec2 vUv;
uniform sampler2D depth;
uniform float near, far, nearest;
void main() {
  float z = texture2D(depth, vUv).x;
  float d = near * far / (far - z * (far - near));
  float v = clamp(nearest / d, 0.0, 1.0) * 65535.0;
  float high = floor(v / 256.0);
  gl_FragColor = vec4(high / 255.0, (v - high * 256.0) / 255.0, 0.0, 1.0);
}`;

const THING_VERTEX = `
attribute float thing;
varying float vThing;
void main() {
  vThing = thing;
  #include <begin_vertex>
  #include <project_vertex>
}`;
const THING_OUT = `
varying float vThing;
void main() {
  float id = floor(vThing + 0.5);
  float high = floor(id / 256.0);
  gl_FragColor = vec4(high / 255.0, (id - high * 256.0) / 255.0, 0.0, 1.0);
}`;

function cardTexture(card: Card | null, width: number, height: number): THREE.DataTexture {
  const texture = card
    ? new THREE.DataTexture(card.light, width, height, THREE.RGBAFormat, THREE.FloatType)
    : new THREE.DataTexture(new Float32Array(4), 1, 1, THREE.RGBAFormat, THREE.FloatType);
  texture.magFilter = texture.minFilter = THREE.LinearFilter;
  texture.needsUpdate = true;
  return texture;
}

/** Renders the passes one by one, adds them up, develops the sum; every pass is shifted by a part of a pixel. */
export class Studio {
  private readonly renderer = new THREE.WebGLRenderer({ antialias: false, preserveDrawingBuffer: true });
  private readonly quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2));
  private readonly flat = new THREE.Scene();
  private readonly flatCamera = new THREE.OrthographicCamera();

  constructor() {
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.renderer.shadowMap.autoUpdate = false;
    this.renderer.outputColorSpace = THREE.LinearSRGBColorSpace;
    this.renderer.setPixelRatio(1);
    this.flat.add(this.quad);
  }

  /**
   * Develops a shot; colours as RGBA bytes from the bottom row up, depth as two bytes in R and G.
   * @param depthShare size of the depth map as a share of the picture's. @param lens in the place of a pinhole.
   * @param cards that stand before it, the farthest first.
   */
  render(
    shot: Shot,
    report: (done: number) => void,
    depthShare = 0.5,
    lens: ThinLens | null = null,
    cards: readonly Card[] = [],
  ): { colours: Uint8Array; depth: Uint8Array } {
    const { width, height, camera } = shot;
    const views = lens?.places ?? shot.looks ?? 1;
    const pass = new THREE.WebGLRenderTarget(width, height, {
      type: THREE.FloatType,
      depthTexture: new THREE.DepthTexture(width, height, THREE.FloatType),
    });
    const sum = new THREE.WebGLRenderTarget(width, height, { type: THREE.FloatType, depthBuffer: false });
    this.renderer.setRenderTarget(sum);
    this.renderer.setClearColor(0, 0);
    this.renderer.clear();
    const add = new THREE.ShaderMaterial({
      vertexShader: FULL_SCREEN,
      fragmentShader: ADD,
      uniforms: {
        light: { value: pass.texture },
        depth: { value: pass.depthTexture },
        near: { value: camera.near },
        far: { value: camera.far },
        airTint: { value: new THREE.Vector3(...shot.air.tint) },
        airDistance: { value: shot.air.distance },
        skyLow: { value: new THREE.Vector3(...shot.sky.low) },
        skyHigh: { value: new THREE.Vector3(...shot.sky.high) },
        views: { value: views },
        share: { value: 1 / shot.passes.length },
        cards: {
          value: Array.from({ length: MAX_CARDS }, (_, i) => cardTexture(cards[i] ?? null, width, height)),
        },
        shifts: { value: Array.from({ length: MAX_CARDS }, () => new THREE.Vector2()) },
        cardCount: { value: cards.length },
      },
      blending: THREE.AdditiveBlending,
      depthTest: false,
    });
    const far = new THREE.DirectionalLight();
    far.castShadow = true;
    far.shadow.mapSize.set(4096, 4096);
    far.shadow.bias = -0.0006;
    far.shadow.normalBias = 0.06;
    const reach = shot.shadowReach;
    Object.assign(far.shadow.camera, {
      left: -reach,
      right: reach,
      top: reach,
      bottom: -reach,
      near: 1,
      far: reach * 4,
    });
    const random = new Random(99);
    shot.passes.forEach((one, index) => {
      const lights: THREE.Object3D[] = [];
      if (one.kind === 'far') {
        far.color.setRGB(...one.tint);
        far.position.copy(shot.shadowCentre).addScaledVector(one.direction.clone().normalize(), reach * 2);
        far.target.position.copy(shot.shadowCentre);
        lights.push(far, far.target);
      } else {
        for (const lamp of one.lamps) {
          const light = new THREE.PointLight(new THREE.Color(...lamp.tint), 1, lamp.reach, 2);
          light.position.copy(lamp.at);
          lights.push(light);
        }
      }
      shot.scene.add(...lights);
      // Lamps shine of themselves in every pass: their share is one part in as many.
      shot.scene.traverse((node) => {
        if (node instanceof THREE.Mesh && node.material instanceof THREE.MeshBasicMaterial)
          node.material.color.setScalar(1 / shot.passes.length);
      });
      this.renderer.shadowMap.needsUpdate = true;
      for (let view = 0; view < views; view++) {
        // The last is where the depth is read from.
        const isLast = !lens && index === shot.passes.length - 1 && view === views - 1;
        const shift = (): number => (isLast ? 0 : random.between(-0.5, 0.5));
        const [right, down] = [shift(), shift()];
        camera.setViewOffset(width, height, right, down, width, height);
        const place = placeInAperture(index * views + view);
        if (lens) throughAperture(camera, lens, place);
        const disc = lens ? discRadius(lens, camera, height) : 0;
        cards.forEach((card, i) => {
          // What lies off the plane of focus is seen moved; a place of the picture shows what was there before.
          const by = disc * ((lens?.focus ?? 0) - card.depth);
          add.uniforms['shifts']!.value[i].set(
            (right - by * place[0]) / width,
            (-down - by * place[1]) / height,
          );
        });
        this.renderer.setRenderTarget(pass);
        this.renderer.setClearColor(0, 1);
        this.renderer.clear();
        this.renderer.render(shot.scene, camera);
        this.draw(add, sum, false);
      }
      shot.scene.remove(...lights);
      report((index + 1) / shot.passes.length);
    });
    const out = new THREE.WebGLRenderTarget(width, height, { depthBuffer: false });
    this.draw(
      new THREE.ShaderMaterial({
        vertexShader: FULL_SCREEN,
        fragmentShader: DEVELOP,
        uniforms: {
          light: { value: sum.texture },
          exposure: { value: shot.exposure },
          grain: { value: shot.grain },
        },
        depthTest: false,
      }),
      out,
      true,
    );
    const colours = new Uint8Array(width * height * 4);
    this.renderer.readRenderTargetPixels(out, 0, 0, width, height, colours);
    const size = { width: width * depthShare, height: height * depthShare };
    const small = new THREE.WebGLRenderTarget(size.width, size.height, { depthBuffer: false });
    this.draw(
      new THREE.ShaderMaterial({
        vertexShader: FULL_SCREEN,
        fragmentShader: DEPTH_OUT,
        uniforms: {
          depth: { value: pass.depthTexture },
          near: { value: camera.near },
          far: { value: camera.far },
          nearest: { value: camera.userData['nearest'] as number },
        },
        depthTest: false,
      }),
      small,
      true,
    );
    const depth = new Uint8Array(size.width * size.height * 4);
    this.renderer.readRenderTargetPixels(small, 0, 0, size.width, size.height, depth);
    return { colours, depth };
  }

  /** Which thing is seen at each pixel, from the bottom row up; 0 for what is no thing. */
  things(shot: Shot, width: number, height: number): Uint16Array {
    shot.scene.overrideMaterial = new THREE.ShaderMaterial({
      vertexShader: THING_VERTEX,
      fragmentShader: THING_OUT,
      side: THREE.DoubleSide,
    });
    const target = new THREE.WebGLRenderTarget(width, height);
    this.renderer.setRenderTarget(target);
    this.renderer.setClearColor(0, 0);
    this.renderer.render(shot.scene, shot.camera);
    const bytes = new Uint8Array(width * height * 4);
    this.renderer.readRenderTargetPixels(target, 0, 0, width, height, bytes);
    shot.scene.overrideMaterial = null;
    return Uint16Array.from({ length: width * height }, (_, i) => bytes[i * 4]! * 256 + bytes[i * 4 + 1]!);
  }

  private draw(material: THREE.ShaderMaterial, target: THREE.WebGLRenderTarget, clear: boolean): void {
    this.quad.material = material;
    this.renderer.setRenderTarget(target);
    this.renderer.autoClear = clear;
    this.renderer.render(this.flat, this.flatCamera);
    this.renderer.autoClear = true;
  }
}

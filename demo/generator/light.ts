import * as THREE from 'three';
import { Random } from './random';

/** One source of light in one pass; passes add up in linear light. */
export type Pass =
  | { kind: 'far'; direction: THREE.Vector3; tint: readonly [number, number, number] }
  | { kind: 'lamps'; lamps: { at: THREE.Vector3; tint: readonly [number, number, number]; reach: number }[] };

export interface Shot {
  scene: THREE.Scene;
  camera: THREE.PerspectiveCamera;
  passes: Pass[];
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

const DEVELOP = `
precision highp float;
varying vec2 vUv;
uniform sampler2D light;
uniform sampler2D depth;
uniform float near, far, airDistance, exposure, grain, depthPasses;
uniform vec3 airTint, skyLow, skyHigh;
uniform vec2 size;
float viewDistance(vec2 uv) { float z = texture2D(depth, uv).x; return near * far / (far - z * (far - near)); }
uint mixBits(uint x) { x ^= x >> 16; x *= 0x7feb352du; x ^= x >> 15; x *= 0x846ca68bu; x ^= x >> 16; return x; }
float white(uvec2 p, uint k) { return float(mixBits(p.x + mixBits(p.y + k * 977u))) / 4294967296.0; }
${TONE_CURVE}
void main() {
  vec3 c = texture2D(light, vUv).rgb;
  float d = viewDistance(vUv);
  c = mix(airTint, c, exp(-d / airDistance));
  if (d > far * 0.98) c = mix(skyLow, skyHigh, smoothstep(0.75, 1.0, vUv.y));
  c = developed(c * exposure);
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

/** Renders the passes one by one, adds them up, develops the sum; every pass is shifted by a part of a pixel. */
export class Studio {
  private readonly renderer = new THREE.WebGLRenderer({ antialias: false, preserveDrawingBuffer: true });
  private readonly quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2));
  private readonly flat = new THREE.Scene();
  private readonly flatCamera = new THREE.OrthographicCamera();

  constructor() {
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.renderer.outputColorSpace = THREE.LinearSRGBColorSpace;
    this.renderer.setPixelRatio(1);
    this.flat.add(this.quad);
  }

  /** Develops a shot; colours as RGBA bytes from the bottom row up, depth as two bytes in R and G. */
  render(shot: Shot, report: (done: number) => void): { colours: Uint8Array; depth: Uint8Array } {
    const { width, height } = shot;
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
      fragmentShader:
        'varying vec2 vUv; uniform sampler2D light; void main() { gl_FragColor = vec4(texture2D(light, vUv).rgb, 1.0); }',
      uniforms: { light: { value: pass.texture } },
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
      const last = index === shot.passes.length - 1;
      shot.camera.setViewOffset(
        width,
        height,
        last ? 0 : random.between(-0.5, 0.5),
        last ? 0 : random.between(-0.5, 0.5),
        width,
        height,
      );
      // Lamps shine of themselves in every pass: their share is one part in as many.
      shot.scene.traverse((node) => {
        if (node instanceof THREE.Mesh && node.material instanceof THREE.MeshBasicMaterial)
          node.material.color.setScalar(1 / shot.passes.length);
      });
      this.renderer.setRenderTarget(pass);
      this.renderer.setClearColor(0, 1);
      this.renderer.clear();
      this.renderer.render(shot.scene, shot.camera);
      shot.scene.remove(...lights);
      this.draw(add, sum, false);
      report((index + 1) / shot.passes.length);
    });
    const uniforms = {
      light: { value: sum.texture },
      depth: { value: pass.depthTexture },
      near: { value: shot.camera.near },
      far: { value: shot.camera.far },
      airTint: { value: new THREE.Vector3(...shot.air.tint) },
      airDistance: { value: shot.air.distance },
      skyLow: { value: new THREE.Vector3(...shot.sky.low) },
      skyHigh: { value: new THREE.Vector3(...shot.sky.high) },
      exposure: { value: shot.exposure },
      grain: { value: shot.grain },
    };
    const out = new THREE.WebGLRenderTarget(width, height, { depthBuffer: false });
    this.draw(
      new THREE.ShaderMaterial({
        vertexShader: FULL_SCREEN,
        fragmentShader: DEVELOP,
        uniforms,
        depthTest: false,
      }),
      out,
      true,
    );
    const colours = new Uint8Array(width * height * 4);
    this.renderer.readRenderTargetPixels(out, 0, 0, width, height, colours);
    const half = new THREE.WebGLRenderTarget(width / 2, height / 2, { depthBuffer: false });
    const nearest = { value: nearestDistance(shot) };
    this.draw(
      new THREE.ShaderMaterial({
        vertexShader: FULL_SCREEN,
        fragmentShader: DEPTH_OUT,
        uniforms: { ...uniforms, nearest },
        depthTest: false,
      }),
      half,
      true,
    );
    const depth = new Uint8Array(width * height);
    this.renderer.readRenderTargetPixels(half, 0, 0, width / 2, height / 2, depth);
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

/** The distance that the depth map stores as its brightest value. */
function nearestDistance(shot: Shot): number {
  return shot.camera.userData['nearest'] as number;
}

import * as THREE from 'three';
import type { Place } from './build';
import { FULL_SCREEN, type Shot, TONE_CURVE } from './light';

/** Something that moves through a shot: built at the origin, put in its place for each time. */
export interface Mover {
  body: THREE.Object3D;
  /** Where it is at a time of 0..1 through the clip. */
  at(time: number): Place & { lean?: number };
  castsShadow: boolean;
}

/** A clip: a developed still of its view with nothing moving in it, and what moves. */
export interface Scene {
  shot: Shot;
  still: { colours: Uint8Array; depth: Uint8Array };
  movers: Mover[];
  sun: { from: THREE.Vector3; tint: readonly number[]; sky: readonly number[] };
  /** How the camera turns: pan, tilt and roll in degrees, and the vertical field of view. */
  camera(time: number): { pan: number; tilt: number; roll: number; fov: number };
  /** How dark cloud shadows get, 0..1. */
  clouds: number;
  /** Brightness of a frame. */
  gain(frame: number): number;
  frames: number;
  width: number;
  height: number;
}

/** What is behind the still, from its depth; the shadows of clouds that cross it. */
const SHARED = `
uniform sampler2D still, depth;
uniform mat4 stillView;
uniform vec3 eye;
uniform float nearest, clouds, wind, gain, seed;
float hash2(vec2 p) { vec3 q = fract(vec3(p.xyx) * 0.1031); q += dot(q, q.yzx + 33.33); return fract((q.x + q.y) * q.z); }
float noise2(vec2 p) {
  vec2 i = floor(p), f = fract(p);
  f = f * f * (3.0 - 2.0 * f);
  return mix(mix(hash2(i), hash2(i + vec2(1, 0)), f.x), mix(hash2(i + vec2(0, 1)), hash2(i + vec2(1, 1)), f.x), f.y);
}
float shade(vec2 xz) {
  vec2 p = xz * 0.011 + vec2(wind, wind * 0.3);
  float cover = 0.6 * noise2(p) + 0.3 * noise2(p * 2.3 + 5.0) + 0.1 * noise2(p * 5.1);
  return 1.0 - clouds * smoothstep(0.46, 0.66, cover);
}
vec3 placeOf(vec3 direction) { vec4 p = stillView * vec4(eye + direction, 1.0); return vec3(0.5 + 0.5 * p.xy / p.w, p.w); }
float inverseDepth(vec2 uv) { vec4 d = texture2D(depth, uv); return (d.r * 255.0 * 256.0 + d.g * 255.0) / 65535.0 / nearest; }
uint mixBits(uint x) { x ^= x >> 16; x *= 0x7feb352du; x ^= x >> 15; x *= 0x846ca68bu; x ^= x >> 16; return x; }
float white(uvec2 p, uint k) { return float(mixBits(p.x + mixBits(p.y + k * 977u + uint(seed) * 7919u))) / 4294967296.0 - 0.5; }
vec4 exposed(vec3 c) {
  uvec2 p = uvec2(gl_FragCoord.xy);
  float noise = white(p, 1u) + white(p, 2u);
  return vec4(clamp(c * gain + noise * 1.6 / 255.0, 0.0, 1.0), 1.0);
}`;

const BACKGROUND = `
precision highp float;
varying vec2 vUv;
uniform mat4 unproject;
uniform vec2 texel;
${SHARED}
void main() {
  vec3 sum = vec3(0.0);
  for (int i = 0; i < 4; i++) {
    vec2 uv = vUv + texel * (vec2(i / 2, i - 2 * (i / 2)) * 0.5 - 0.25);
    vec4 far = unproject * vec4(uv * 2.0 - 1.0, 1.0, 1.0);
    vec3 direction = normalize(far.xyz / far.w - eye);
    vec3 place = placeOf(direction);
    vec3 c = texture2D(still, place.xy).rgb;
    // The depth is along the view of the still, of which one metre of direction goes place.z.
    vec3 world = eye + direction / max(inverseDepth(place.xy) * place.z, 0.0005);
    sum += pow(c, vec3(2.2)) * shade(world.xz);
  }
  gl_FragColor = exposed(pow(sum / 4.0, vec3(1.0 / 2.2)));
}`;

/** Renders a clip frame by frame onto a canvas. */
export class Footage {
  readonly canvas: HTMLCanvasElement;
  private readonly renderer: THREE.WebGLRenderer;
  private readonly view: THREE.PerspectiveCamera;
  private readonly world = new THREE.Scene();
  private readonly back = new THREE.Scene();
  private readonly backCamera = new THREE.OrthographicCamera();
  private readonly uniforms;
  private readonly shadows: { mover: Mover; shadow: THREE.Object3D }[] = [];

  constructor(private readonly scene: Scene) {
    const { shot, still, width, height } = scene;
    this.renderer = new THREE.WebGLRenderer({ antialias: true, stencil: true, preserveDrawingBuffer: true });
    this.renderer.outputColorSpace = THREE.LinearSRGBColorSpace;
    this.renderer.setPixelRatio(1);
    this.renderer.setSize(width, height, false);
    this.renderer.autoClear = false;
    this.canvas = this.renderer.domElement;
    this.view = shot.camera.clone();
    this.view.clearViewOffset();
    this.view.aspect = width / height;
    const texture = (bytes: Uint8Array, w: number, h: number, filter: THREE.MagnificationTextureFilter) => {
      const map = new THREE.DataTexture(bytes, w, h, THREE.RGBAFormat);
      map.magFilter = map.minFilter = filter;
      map.needsUpdate = true;
      return map;
    };
    const original = shot.camera.clone();
    original.clearViewOffset();
    original.updateMatrixWorld();
    this.uniforms = {
      still: { value: texture(still.colours, shot.width, shot.height, THREE.LinearFilter) },
      depth: { value: texture(still.depth, shot.width / 2, shot.height / 2, THREE.NearestFilter) },
      stillView: {
        value: original.projectionMatrix.clone().multiply(original.matrixWorldInverse),
      },
      eye: { value: original.position.clone() },
      nearest: { value: shot.camera.userData['nearest'] as number },
      clouds: { value: scene.clouds },
      wind: { value: 0 },
      gain: { value: 1 },
      seed: { value: 0 },
      unproject: { value: new THREE.Matrix4() },
      texel: { value: new THREE.Vector2(1 / width, 1 / height) },
    };
    this.back.add(
      new THREE.Mesh(
        new THREE.PlaneGeometry(2, 2),
        new THREE.ShaderMaterial({
          vertexShader: FULL_SCREEN,
          fragmentShader: BACKGROUND,
          uniforms: this.uniforms,
          depthTest: false,
          depthWrite: false,
        }),
      ),
    );
    const sun = new THREE.DirectionalLight(new THREE.Color(...(scene.sun.tint as [number, number, number])));
    sun.position.copy(scene.sun.from);
    const sky = new THREE.Color(...(scene.sun.sky as [number, number, number])).multiplyScalar(0.85);
    this.world.add(sun, new THREE.AmbientLight(sky, 1));
    const solid = this.standsBehind(new THREE.MeshLambertMaterial({ vertexColors: true }), false);
    const dark = this.standsBehind(
      new THREE.MeshBasicMaterial({ color: 0, opacity: 0.5, transparent: true }),
      true,
    );
    Object.assign(dark, {
      depthWrite: false,
      stencilWrite: true,
      stencilRef: 1,
      stencilFunc: THREE.NotEqualStencilFunc,
      stencilZPass: THREE.ReplaceStencilOp,
    });
    for (const mover of scene.movers) {
      const dress = (body: THREE.Object3D, material: THREE.Material): void =>
        body.traverse((node) => {
          if (node instanceof THREE.Mesh) node.material = material;
        });
      dress(mover.body, solid);
      if (mover.castsShadow) {
        const shadow = mover.body.clone();
        dress(shadow, dark);
        shadow.matrixAutoUpdate = false;
        this.shadows.push({ mover, shadow });
        this.world.add(shadow);
      }
      this.world.add(mover.body);
    }
  }

  /** A material that hides behind what the still shows nearer, and is developed as the still was. */
  private standsBehind<M extends THREE.Material>(material: M, isShadow: boolean): M {
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.uniforms, { exposure: { value: this.scene.shot.exposure } });
      shader.vertexShader = `varying vec3 vWorld;\n${shader.vertexShader.replace(
        '#include <project_vertex>',
        '#include <project_vertex>\nvWorld = (modelMatrix * vec4(transformed, 1.0)).xyz;',
      )}`;
      const end = isShadow
        ? 'gl_FragColor.a *= shade(vWorld.xz);'
        : 'gl_FragColor = exposed(pow(pow(developed(gl_FragColor.rgb * exposure), vec3(2.2)) * shade(vWorld.xz), vec3(1.0 / 2.2)));';
      shader.fragmentShader = `varying vec3 vWorld;\nuniform float exposure;\n${SHARED}\n${TONE_CURVE}\n${shader.fragmentShader
        .replace(
          'void main() {',
          'void main() {\nvec3 seen = placeOf(vWorld - eye);\nif (inverseDepth(seen.xy) > 1.0 / seen.z + ' +
            (isShadow ? '0.0002' : '0.00004') +
            ') discard;',
        )
        .replace('#include <dithering_fragment>', end)}`;
    };
    return material;
  }

  private aim(frame: number): void {
    const { scene, view } = this;
    const { pan, tilt, roll, fov } = scene.camera(frame / (scene.frames - 1));
    view.quaternion.copy(scene.shot.camera.quaternion);
    const rad = THREE.MathUtils.degToRad;
    view.quaternion.multiply(
      new THREE.Quaternion().setFromEuler(new THREE.Euler(rad(tilt), rad(pan), rad(roll), 'YXZ')),
    );
    view.fov = fov;
    view.updateProjectionMatrix();
    view.updateMatrixWorld();
  }

  draw(frame: number): void {
    const { scene, view, uniforms } = this;
    const time = frame / (scene.frames - 1);
    this.aim(frame);
    uniforms.unproject.value.multiplyMatrices(view.matrixWorld, view.projectionMatrixInverse);
    uniforms.wind.value = time * 1.1;
    uniforms.gain.value = scene.gain(frame);
    uniforms.seed.value = frame;
    for (const { body, at } of scene.movers) {
      const { x, y, z, turn = 0, lean = 0 } = at(time);
      body.position.set(x, y, z);
      body.rotation.set(0, turn, lean, 'YXZ');
      body.updateMatrixWorld();
    }
    const { from } = scene.sun;
    for (const { mover, shadow } of this.shadows) {
      const ground = mover.at(time).y + 0.05;
      // Everything slides down the sun's rays onto the ground.
      const shear = new THREE.Matrix4().set(
        1,
        -from.x / from.y,
        0,
        (ground * from.x) / from.y,
        0,
        0,
        0,
        ground,
        0,
        -from.z / from.y,
        1,
        (ground * from.z) / from.y,
        0,
        0,
        0,
        1,
      );
      shadow.matrix.multiplyMatrices(shear, mover.body.matrixWorld);
    }
    this.renderer.clear();
    this.renderer.render(this.back, this.backCamera);
    this.renderer.render(this.world, view);
  }

  /** Where what lies at each place of frame 0 is in a frame: a homography of pixels, row by row (the camera only turns). */
  motion(frame: number): number[] {
    const { width, height } = this.scene;
    const rays = (n: number): THREE.Matrix3 => {
      this.aim(n);
      const focal = height / 2 / Math.tan(THREE.MathUtils.degToRad(this.view.fov) / 2);
      const lens = new THREE.Matrix3().set(focal, 0, -width / 2, 0, -focal, -height / 2, 0, 0, -1);
      const toView = new THREE.Matrix3().setFromMatrix4(this.view.matrixWorldInverse);
      return lens.multiply(toView);
    };
    const h = rays(0).invert().premultiply(rays(frame));
    const e = h.elements;
    return [e[0], e[3], e[6], e[1], e[4], e[7], e[2], e[5], e[8]].map((v) =>
      Number((v! / e[8]!).toPrecision(9)),
    );
  }
}

import * as THREE from 'three';

/** What a face is made of; the shader paints its texture from world position and normal. */
export const SURFACES = [
  'plain',
  'plaster',
  'tiles',
  'slate',
  'cobble',
  'grass',
  'soil',
  'planks',
  'leaf',
  'brick',
  'canvas',
] as const;
export type Surface = (typeof SURFACES)[number];

const VERTEX_HEAD = `
attribute float surface;
varying float vSurface;
varying vec3 vWorld;
varying vec3 vWorldNormal;
`;

const VERTEX_BODY = `
vSurface = surface;
vec4 hazeWorld = vec4(transformed, 1.0);
vec3 hazeNormal = objectNormal;
#ifdef USE_INSTANCING
hazeWorld = instanceMatrix * hazeWorld;
hazeNormal = mat3(instanceMatrix) * hazeNormal;
#endif
vWorld = (modelMatrix * hazeWorld).xyz;
vWorldNormal = normalize(mat3(modelMatrix) * hazeNormal);
`;

const FRAGMENT_HEAD = `
varying float vSurface;
varying vec3 vWorld;
varying vec3 vWorldNormal;
float hash2(vec2 p) { vec3 q = fract(vec3(p.xyx) * 0.1031); q += dot(q, q.yzx + 33.33); return fract((q.x + q.y) * q.z); }
float noise2(vec2 p) {
  vec2 i = floor(p), f = fract(p);
  f = f * f * (3.0 - 2.0 * f);
  return mix(mix(hash2(i), hash2(i + vec2(1, 0)), f.x), mix(hash2(i + vec2(0, 1)), hash2(i + vec2(1, 1)), f.x), f.y);
}
float cloudy(vec2 p) { return 0.5 * noise2(p) + 0.25 * noise2(p * 2.1 + 7.0) + 0.15 * noise2(p * 4.3 + 3.0) + 0.1 * noise2(p * 9.1); }
vec3 paintSurface(vec3 base) {
  vec3 n = normalize(vWorldNormal);
  vec2 flat2 = vec2(-n.z, n.x);
  float steep = length(flat2);
  vec2 along = steep > 0.05 ? flat2 / steep : vec2(1.0, 0.0);
  vec2 face = steep > 0.05 ? vec2(dot(vWorld.xz, along), vWorld.y / max(steep, 0.2)) : vWorld.xz;
  int kind = int(vSurface + 0.5);
  if (kind == 1) {
    float stain = cloudy(face * 0.7) * 0.22 + noise2(face * 14.0) * 0.07;
    float damp = smoothstep(1.6, 0.0, vWorld.y) * 0.08;
    return base * (0.86 + stain - damp);
  }
  if (kind == 2 || kind == 3) {
    vec2 size = kind == 2 ? vec2(0.26, 0.34) : vec2(0.42, 0.3);
    float row = floor(face.y / size.y);
    float column = floor(face.x / size.x + 0.5 * mod(row, 2.0));
    float tone = hash2(vec2(column, row));
    vec2 cell = vec2(fract(face.x / size.x + 0.5 * mod(row, 2.0)), fract(face.y / size.y));
    float lip = smoothstep(0.0, 0.28, cell.y) * 0.35 + 0.65;
    float seam = smoothstep(0.0, 0.12, cell.x) * smoothstep(1.0, 0.88, cell.x) * 0.25 + 0.75;
    float moss = smoothstep(0.62, 0.8, cloudy(face * 0.35 + 11.0));
    vec3 c = base * (0.74 + 0.42 * tone) * lip * seam * (0.85 + 0.3 * cloudy(face * 0.22));
    return mix(c, c * vec3(0.78, 0.92, 0.6), moss * 0.5);
  }
  if (kind == 4) {
    vec2 cellId = floor(vWorld.xz * 5.0 + vec2(0.5 * mod(floor(vWorld.z * 5.0), 2.0), 0.0));
    vec2 cell = fract(vWorld.xz * 5.0 + vec2(0.5 * mod(floor(vWorld.z * 5.0), 2.0), 0.0)) - 0.5;
    float stone = 1.0 - 0.35 * smoothstep(0.3, 0.52, max(abs(cell.x), abs(cell.y)));
    return base * (0.8 + 0.3 * hash2(cellId)) * stone * (0.8 + 0.4 * cloudy(vWorld.xz * 0.12));
  }
  if (kind == 5) {
    float patchy = cloudy(vWorld.xz * 0.11);
    float blades = hash2(floor(vWorld.xz * vec2(22.0, 13.0))) * 0.4 + noise2(vWorld.xz * 6.0) * 0.3;
    return mix(base, base * vec3(1.25, 1.08, 0.75), smoothstep(0.35, 0.7, patchy)) * (0.6 + blades);
  }
  if (kind == 6) {
    return base * (0.6 + 0.5 * cloudy(vWorld.xz * 2.5) + 0.35 * hash2(floor(vWorld.xz * 24.0)));
  }
  if (kind == 7) {
    float board = floor(face.x / 0.18);
    float gap = smoothstep(0.0, 0.1, fract(face.x / 0.18)) * 0.4 + 0.6;
    return base * gap * (0.75 + 0.3 * hash2(vec2(board, 3.0)) + 0.2 * noise2(vec2(face.x * 30.0, face.y * 2.0)));
  }
  if (kind == 8) {
    return base * (0.7 + 0.6 * noise2(vWorld.xz * 5.0 + vWorld.y * 3.1));
  }
  if (kind == 9) {
    float row = floor(face.y / 0.085);
    vec2 cell = vec2(fract(face.x / 0.24 + 0.5 * mod(row, 2.0)), fract(face.y / 0.085));
    float joint = step(0.05, cell.x) * step(0.14, cell.y);
    return mix(vec3(0.5, 0.47, 0.42), base * (0.75 + 0.4 * hash2(vec2(floor(face.x / 0.24 + 0.5 * mod(row, 2.0)), row))), joint);
  }
  if (kind == 10) {
    return base * (0.9 + 0.12 * noise2(face * 30.0));
  }
  return base;
}
`;

/** The one matt material that every solid thing wears. */
export function solidMaterial(): THREE.MeshLambertMaterial {
  const material = new THREE.MeshLambertMaterial({ vertexColors: true });
  material.onBeforeCompile = (shader) => {
    shader.vertexShader =
      VERTEX_HEAD +
      shader.vertexShader.replace('#include <begin_vertex>', `#include <begin_vertex>\n${VERTEX_BODY}`);
    shader.fragmentShader =
      FRAGMENT_HEAD +
      shader.fragmentShader.replace(
        '#include <color_fragment>',
        '#include <color_fragment>\ndiffuseColor.rgb = paintSurface(diffuseColor.rgb);',
      );
  };
  return material;
}

/** Window panes of a glasshouse: a thin veil that takes the colour of the sky. */
export function glassMaterial(): THREE.MeshLambertMaterial {
  return new THREE.MeshLambertMaterial({
    color: 0xcfe6e8,
    transparent: true,
    opacity: 0.24,
    depthWrite: false,
    side: THREE.DoubleSide,
  });
}

/** Things that shine by themselves; colours may exceed 1. */
export function lampMaterial(): THREE.MeshBasicMaterial {
  return new THREE.MeshBasicMaterial({ vertexColors: true, toneMapped: false });
}

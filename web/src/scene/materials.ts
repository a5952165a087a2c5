import { Color, DoubleSide, GLSL3, ShaderMaterial, Vector2, Vector4 } from "three";

/**
 * Our own shaders: two tones for surfaces, hatching for picks, shifted lines for thick ones. All end in colour-space. Nothing is
 * handed from vertex to fragment, nor asked of a fragment, that a material does not need: drawn by software each of it is felt.
 */

/** Nothing is drawn beyond the section plane: a direction of the build and the place along it. Only compiled in while there is one. */
const CUT = /* glsl */ `
  #ifdef CUT
  uniform vec4 cut;
  in vec3 vBuild;
  #define CUT_AWAY if (dot(vBuild, cut.xyz) > cut.w) discard;
  #else
  #define CUT_AWAY
  #endif
  layout(location = 0) out highp vec4 pc_fragColor;
  #define gl_FragColor pc_fragColor`;

const VERTEX = /* glsl */ `
  uniform vec2 shift;
  uniform vec2 size;
  uniform float lift;
  uniform float point;
  #ifdef CUT
  out vec3 vBuild;
  #endif
  #ifdef DASHDOT
  flat out vec2 vEnd;
  out vec3 vHere;
  #endif
  #ifdef SMOOTH
  out float vLight;
  #endif
  #ifdef FACETS
  out vec3 vView;
  #endif
  const vec3 LIGHT = vec3(-0.3522, 0.7547, 0.5535);
  void main() {
    vec4 view = modelViewMatrix * vec4(position, 1.0);
    #ifdef CUT
    vBuild = (modelMatrix * vec4(position, 1.0)).xyz;
    #endif
    #ifdef SMOOTH
    vLight = dot(normalize(normalMatrix * normal), LIGHT);
    #endif
    #ifdef FACETS
    vView = view.xyz;
    #endif
    gl_Position = projectionMatrix * view;
    gl_Position.xy += shift * 2.0 / size * gl_Position.w;
    gl_Position.z -= lift * gl_Position.w;
    #ifdef DASHDOT
    vec2 pixels = gl_Position.xy * size / 2.0; // times w, so that along the line they grow as on the screen
    vHere = vec3(pixels, gl_Position.w);
    vEnd = pixels / gl_Position.w;
    #endif
    gl_PointSize = point;
  }`;

const FACES = /* glsl */ `
  precision highp float;
  ${CUT}
  uniform vec3 colour;
  uniform vec3 inside;
  uniform float flatness;
  uniform float alpha;
  #ifdef SMOOTH
  in float vLight;
  #else
  in vec3 vView;
  const vec3 LIGHT = vec3(-0.3522, 0.7547, 0.5535);
  #endif
  void main() {
    CUT_AWAY
    #ifdef SMOOTH
    float light = gl_FrontFacing ? vLight : -vLight;
    #else
    float light = dot(normalize(cross(dFdx(vView), dFdy(vView))), LIGHT);
    #endif
    float tone = mix(0.74, 1.12, smoothstep(-0.25, 0.95, light));
    vec3 base = gl_FrontFacing ? colour : inside;
    gl_FragColor = vec4(base * mix(tone, 1.0, flatness), alpha);
    #include <colorspace_fragment>
  }`;

const HATCH = /* glsl */ `
  precision highp float;
  ${CUT}
  uniform vec3 colour;
  uniform float ratio;
  uniform float ground;
  uniform float strength;
  void main() {
    CUT_AWAY
    float stripe = mod(gl_FragCoord.x - gl_FragCoord.y, 9.0 * ratio);
    gl_FragColor = vec4(colour, stripe < 1.7 * ratio ? strength : ground);
    #include <colorspace_fragment>
  }`;

const LINES = /* glsl */ `
  precision highp float;
  ${CUT}
  uniform vec3 colour;
  uniform float alpha;
  #if defined(DASHED) || defined(DASHDOT)
  uniform float dash;
  #endif
  #ifdef DASHDOT
  flat in vec2 vEnd;
  in vec3 vHere;
  #endif
  void main() {
    CUT_AWAY
    #ifdef DASHED
    if (mod(gl_FragCoord.x - gl_FragCoord.y, dash) > dash * 0.55) discard;
    #endif
    #ifdef DASHDOT
    float along = mod(length(vHere.xy / vHere.z - vEnd) / dash, 1.0); // a dash, a gap, a dot, a gap
    if (along > 0.88 || (along > 0.53 && along < 0.71)) discard;
    #endif
    gl_FragColor = vec4(colour, alpha);
    #include <colorspace_fragment>
  }`;

const POINTS = /* glsl */ `
  precision highp float;
  ${CUT}
  uniform vec3 colour;
  uniform float alpha;
  void main() {
    CUT_AWAY
    if (length(gl_PointCoord - 0.5) > 0.5) discard;
    gl_FragColor = vec4(colour, alpha);
    #include <colorspace_fragment>
  }`;

/** Drawing size in pixels, shared by every material. */
export const SIZE = new Vector2(1, 1);
/** The section plane, shared by every material; nothing lies beyond the one it starts with. */
export const CUT_PLANE = new Vector4(0, 0, 0, 1);

const made = new Set<ShaderMaterial>();
let cutting = false;

/** Compile the section into every material, or out of it. */
export function setCutting(on: boolean): void {
  if (on === cutting) return;
  cutting = on;
  for (const m of made) {
    if (on) m.defines["CUT"] = 1;
    else delete m.defines["CUT"];
    m.needsUpdate = true;
  }
}

function material(fragment: string, uniforms: Record<string, unknown>, defines: Record<string, number> = {}): ShaderMaterial {
  const all: Record<string, { value: unknown }> = {
    shift: { value: new Vector2() },
    size: { value: SIZE },
    lift: { value: 0 },
    point: { value: 1 },
    cut: { value: CUT_PLANE },
  };
  for (const [key, value] of Object.entries(uniforms)) all[key] = { value };
  const m = new ShaderMaterial({ glslVersion: GLSL3, vertexShader: VERTEX, fragmentShader: fragment, uniforms: all, defines: cutting ? { ...defines, CUT: 1 } : defines });
  made.add(m);
  m.addEventListener("dispose", () => made.delete(m));
  return m;
}

export function faceMaterial(smooth: boolean): ShaderMaterial {
  const m = material(FACES, { colour: new Color(), inside: new Color(), flatness: 0, alpha: 1 }, smooth ? { SMOOTH: 1 } : { FACETS: 1 });
  m.side = DoubleSide;
  m.polygonOffset = true;
  m.polygonOffsetFactor = 1;
  m.polygonOffsetUnits = 1;
  return m;
}

export function depthMaterial(): ShaderMaterial {
  const m = faceMaterial(false);
  m.colorWrite = false;
  m.transparent = true; // drawn in its order among what is see-through: after the boards, which stay visible behind
  return m;
}

export function hatchMaterial(): ShaderMaterial {
  const m = material(HATCH, { colour: new Color(), ratio: 1, ground: 0.1, strength: 0.85, lift: 2e-5 });
  m.transparent = true;
  m.depthWrite = false;
  m.side = DoubleSide;
  return m;
}

/** @param dash pixels of a dash and its gap; 0 for a whole line */
export function lineMaterial(dash = 0): ShaderMaterial {
  const m = material(LINES, { colour: new Color(), alpha: 1, dash, lift: 4e-5 }, dash > 0 ? { DASHED: 1 } : {});
  m.transparent = true;
  m.depthWrite = false;
  return m;
}

/** Dashes and dots that are as long on the screen whichever way a line runs.
 * @param dash pixels from dash to dash */
export function dashDotMaterial(dash: number): ShaderMaterial {
  const m = material(LINES, { colour: new Color(), alpha: 1, dash, lift: 5e-5 }, { DASHDOT: 1 });
  m.transparent = true;
  m.depthWrite = false;
  return m;
}

export function pointMaterial(): ShaderMaterial {
  const m = material(POINTS, { colour: new Color(), alpha: 1, lift: 6e-5 });
  m.transparent = true;
  m.depthWrite = false;
  return m;
}

import { Color, DoubleSide, GLSL3, ShaderMaterial, Vector2, Vector4 } from "three";

/** Our own shaders: two tones for surfaces, hatching for picks, shifted lines for thick ones. All end in colour-space. */

/** Nothing is drawn beyond the section plane: a direction of the build and the place along it. */
const CUT = /* glsl */ `
  uniform vec4 cut;
  in vec3 vBuild;
  bool cutAway() { return dot(vBuild, cut.xyz) > cut.w; }`;

const VERTEX = /* glsl */ `
  uniform vec2 shift;
  uniform vec2 size;
  uniform float lift;
  uniform float point;
  out vec3 vView;
  out vec3 vBuild;
  #ifdef SMOOTH
  out vec3 vNormal;
  #endif
  void main() {
    vec4 view = modelViewMatrix * vec4(position, 1.0);
    vView = view.xyz;
    vBuild = (modelMatrix * vec4(position, 1.0)).xyz;
    #ifdef SMOOTH
    vNormal = normalMatrix * normal;
    #endif
    gl_Position = projectionMatrix * view;
    gl_Position.xy += shift * 2.0 / size * gl_Position.w;
    gl_Position.z -= lift * gl_Position.w;
    gl_PointSize = point;
  }`;

const FACES = /* glsl */ `
  precision highp float;
  ${CUT}
  uniform vec3 colour;
  uniform vec3 inside;
  uniform float flatness;
  uniform float alpha;
  in vec3 vView;
  #ifdef SMOOTH
  in vec3 vNormal;
  #endif
  layout(location = 0) out highp vec4 pc_fragColor;
  #define gl_FragColor pc_fragColor
  void main() {
    if (cutAway()) discard;
    #ifdef SMOOTH
    vec3 n = normalize(vNormal);
    if (!gl_FrontFacing) n = -n;
    #else
    vec3 n = normalize(cross(dFdx(vView), dFdy(vView)));
    #endif
    float light = dot(n, normalize(vec3(-0.35, 0.75, 0.55)));
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
  in vec3 vView;
  layout(location = 0) out highp vec4 pc_fragColor;
  #define gl_FragColor pc_fragColor
  void main() {
    if (cutAway()) discard;
    float stripe = mod(gl_FragCoord.x - gl_FragCoord.y, 9.0 * ratio);
    gl_FragColor = vec4(colour, stripe < 1.7 * ratio ? strength : ground);
    #include <colorspace_fragment>
  }`;

const LINES = /* glsl */ `
  precision highp float;
  ${CUT}
  uniform vec3 colour;
  uniform float alpha;
  uniform float dash;
  in vec3 vView;
  layout(location = 0) out highp vec4 pc_fragColor;
  #define gl_FragColor pc_fragColor
  void main() {
    if (cutAway()) discard;
    if (dash > 0.0 && mod(gl_FragCoord.x - gl_FragCoord.y, dash) > dash * 0.55) discard;
    gl_FragColor = vec4(colour, alpha);
    #include <colorspace_fragment>
  }`;

const POINTS = /* glsl */ `
  precision highp float;
  ${CUT}
  uniform vec3 colour;
  uniform float alpha;
  in vec3 vView;
  layout(location = 0) out highp vec4 pc_fragColor;
  #define gl_FragColor pc_fragColor
  void main() {
    if (cutAway()) discard;
    if (length(gl_PointCoord - 0.5) > 0.5) discard;
    gl_FragColor = vec4(colour, alpha);
    #include <colorspace_fragment>
  }`;

/** Drawing size in pixels, shared by every material. */
export const SIZE = new Vector2(1, 1);
/** The section plane, shared by every material; nothing lies beyond the one it starts with. */
export const CUT_PLANE = new Vector4(0, 0, 0, 1);

function material(fragment: string, uniforms: Record<string, unknown>, smooth = false): ShaderMaterial {
  const all: Record<string, { value: unknown }> = {
    shift: { value: new Vector2() },
    size: { value: SIZE },
    lift: { value: 0 },
    point: { value: 1 },
    cut: { value: CUT_PLANE },
  };
  for (const [key, value] of Object.entries(uniforms)) all[key] = { value };
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: fragment,
    uniforms: all,
    defines: smooth ? { SMOOTH: 1 } : {},
  });
}

export function faceMaterial(smooth: boolean): ShaderMaterial {
  const m = material(FACES, { colour: new Color(), inside: new Color(), flatness: 0, alpha: 1 }, smooth);
  m.side = DoubleSide;
  m.polygonOffset = true;
  m.polygonOffsetFactor = 1;
  m.polygonOffsetUnits = 1;
  return m;
}

export function depthMaterial(): ShaderMaterial {
  const m = faceMaterial(false);
  m.colorWrite = false;
  return m;
}

export function hatchMaterial(): ShaderMaterial {
  const m = material(HATCH, { colour: new Color(), ratio: 1, ground: 0.1, strength: 0.85, lift: 2e-5 });
  m.transparent = true;
  m.depthWrite = false;
  m.side = DoubleSide;
  return m;
}

export function lineMaterial(): ShaderMaterial {
  const m = material(LINES, { colour: new Color(), alpha: 1, dash: 0, lift: 4e-5 });
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

import { BufferAttribute, BufferGeometry, Color, GLSL3, Mesh, ShaderMaterial } from "three";

import type { MeshData } from "../api/packets";
import { token } from "../theme/theme";

/** Squares along the texture square. */
const SQUARES = 32;

const VERTEX = /* glsl */ `
  out vec2 vPlace;
  void main() {
    vPlace = uv;
    gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
    gl_Position.z -= 0.00004 * gl_Position.w;
  }`;

const FRAGMENT = /* glsl */ `
  precision highp float;
  layout(location = 0) out highp vec4 pc_fragColor;
  uniform vec3 ink;
  uniform vec3 mark;
  in vec2 vPlace;
  void main() {
    vec2 cell = floor(vPlace * ${SQUARES}.0);
    if (mod(cell.x + cell.y, 2.0) < 0.5) discard;
    // each quarter of the square has a sign of its own in one of its cells: what is turned over, or lies twice, shows
    vec2 within = mod(cell, 8.0);
    pc_fragColor = vec4(within == vec2(3.0, 4.0) ? mark : ink, within == vec2(3.0, 4.0) ? 0.85 : 0.3);
  }`;

/** Squares over a part's faces as they lie on the texture square: what is stretched there shows as what is not square here. */
export class Checker {
  readonly object: Mesh<BufferGeometry, ShaderMaterial>;
  private shown: MeshData | null = null;

  constructor() {
    const material = new ShaderMaterial({
      glslVersion: GLSL3, vertexShader: VERTEX, fragmentShader: FRAGMENT, transparent: true, depthWrite: false,
      uniforms: { ink: { value: new Color() }, mark: { value: new Color() } },
    });
    this.object = new Mesh(new BufferGeometry(), material);
    this.object.frustumCulled = false;
    this.object.matrixAutoUpdate = false;
    this.object.renderOrder = 30;
    this.object.visible = false;
  }

  /** Lie over a cage, or over nothing. */
  show(mesh: MeshData | null): void {
    const laid = mesh?.uv == null ? null : mesh;
    this.object.visible = laid !== null;
    if (laid === null || laid === this.shown) return;
    this.shown = laid;
    const { triangles, triangleFace, offsets, corners } = laid.shape;
    const uv = laid.uv as Float32Array;
    const places = new Float32Array(triangles.length * 2);
    const points = new Float32Array(triangles.length * 3);
    for (let i = 0; i < triangles.length; i++) {
      const vertex = triangles[i] as number;
      let c = offsets[triangleFace[Math.floor(i / 3)] as number] as number;
      while (corners[c] !== vertex) c++;
      places.set(uv.subarray(2 * c, 2 * c + 2), 2 * i);
      points.set(laid.positions.subarray(3 * vertex, 3 * vertex + 3), 3 * i);
    }
    this.object.geometry.dispose();
    this.object.geometry = new BufferGeometry();
    this.object.geometry.setAttribute("position", new BufferAttribute(points, 3));
    this.object.geometry.setAttribute("uv", new BufferAttribute(places, 2));
    this.object.material.uniforms["ink"]?.value.set(token("ink"));
    this.object.material.uniforms["mark"]?.value.set(token("pick"));
  }

  dispose(): void {
    this.object.geometry.dispose();
    this.object.material.dispose();
  }
}

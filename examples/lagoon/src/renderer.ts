import type { Mesh } from './shapes.js';

const VERTEX = `#version 300 es
in vec3 position;
in vec3 normal;
in vec3 color;
in vec3 bulge;
in mat4 world;
uniform mat4 view;
uniform float bulged;
uniform float phase;
uniform float isWater;
out vec3 shade;
out float far;
void main() {
  vec4 at = world * vec4(position + bulge * bulged, 1.0);
  vec3 up = normalize(mat3(world) * normal);
  if (isWater > 0.5) {
    float a = at.x * 0.35 + 6.2831853 * phase;
    float b = at.z * 0.28 - at.x * 0.12 + 6.2831853 * phase * 0.5;
    at.y += 0.16 * sin(a) + 0.12 * sin(b);
    // Steeper than it is, so that it is seen.
    up = normalize(vec3(-0.3 * cos(a) + 0.08 * cos(b), 1.0, -0.2 * cos(b)));
  }
  gl_Position = view * at;
  float light = 0.45 + 0.65 * max(0.0, dot(up, normalize(vec3(-0.5, 0.7, 0.45))));
  shade = color * light * vec3(1.08, 1.0, 0.92);
  far = clamp((gl_Position.w - 18.0) / 62.0, 0.0, 1.0);
}`;
const FRAGMENT = `#version 300 es
precision mediump float;
in vec3 shade;
in float far;
uniform vec3 sky;
uniform vec3 glow;
out vec4 result;
void main() {
  result = vec4(mix(shade + glow, sky, far * far), 1.0);
}`;

/** Bytes of a corner: position, normal, color and bulge. */
const CORNER = 48;
export const SKY = [0.86, 0.74, 0.66] as const;

/** How one mesh is drawn: as often as there are matrices. */
export interface Drawn {
  readonly mesh: Mesh;
  /** Matrices of 16 numbers, the first at `offset`, each `stride` numbers after the one before. */
  readonly matrices: Float32Array;
  readonly offset: number;
  readonly stride: number;
  count: number;
  bulged?: number;
  glow?: number;
  isWater?: boolean;
}

/** The little of a renderer that this scene needs: WebGL 2, one program, instances. It knows of no animation. */
export class Renderer {
  readonly #gl: WebGL2RenderingContext;
  readonly #program: WebGLProgram;
  readonly #meshes = new Map<Mesh, WebGLBuffer>();
  readonly #instances = new Map<Float32Array, WebGLBuffer>();
  readonly #places = new Map<string, WebGLUniformLocation | null>();

  /** @throws Error where there is no WebGL 2 */
  constructor(readonly canvas: HTMLCanvasElement) {
    const gl = canvas.getContext('webgl2', { antialias: true, alpha: false, powerPreference: 'low-power' });
    if (!gl) throw new Error('this browser has no WebGL 2');
    this.#gl = gl;
    const program = gl.createProgram();
    for (const [kind, source] of [
      [gl.VERTEX_SHADER, VERTEX],
      [gl.FRAGMENT_SHADER, FRAGMENT],
    ] as const) {
      // prettier-ignore
      const shader = gl.createShader(kind)!;
      gl.shaderSource(shader, source);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(String(gl.getShaderInfoLog(shader)));
      gl.attachShader(program, shader);
    }
    ['position', 'normal', 'color', 'bulge', 'world'].forEach((name, i) => gl.bindAttribLocation(program, i, name));
    gl.linkProgram(program);
    gl.useProgram(program);
    gl.enable(gl.DEPTH_TEST);
    gl.enable(gl.CULL_FACE);
    this.#program = program;
  }

  #place(name: string): WebGLUniformLocation | null {
    if (!this.#places.has(name)) this.#places.set(name, this.#gl.getUniformLocation(this.#program, name));
    return this.#places.get(name)!;
  }

  /** Draws everything as seen through a view matrix. Instances are sent once a frame, however many meshes share them. */
  draw(view: Float32Array, phase: number, all: readonly Drawn[]): void {
    const gl = this.#gl;
    gl.viewport(0, 0, this.canvas.width, this.canvas.height);
    gl.clearColor(...SKY, 1);
    gl.clear(gl.COLOR_BUFFER_BIT | gl.DEPTH_BUFFER_BIT);
    gl.uniformMatrix4fv(this.#place('view'), false, view);
    gl.uniform1f(this.#place('phase'), phase % 1000);
    gl.uniform3f(this.#place('sky'), ...SKY);
    const sent = new Set<Float32Array>();
    for (const drawn of all) {
      if (drawn.count === 0) continue;
      gl.bindBuffer(gl.ARRAY_BUFFER, this.#bufferOf(drawn.mesh));
      for (let i = 0; i < 4; i++) {
        gl.enableVertexAttribArray(i);
        gl.vertexAttribPointer(i, 3, gl.FLOAT, false, CORNER, i * 12);
      }
      this.#send(drawn, sent);
      for (let i = 0; i < 4; i++) {
        gl.enableVertexAttribArray(4 + i);
        gl.vertexAttribPointer(4 + i, 4, gl.FLOAT, false, drawn.stride * 4, drawn.offset * 4 + i * 16);
        gl.vertexAttribDivisor(4 + i, 1);
      }
      gl.uniform1f(this.#place('bulged'), drawn.bulged ?? 0);
      gl.uniform1f(this.#place('isWater'), drawn.isWater ? 1 : 0);
      const glow = drawn.glow ?? 0;
      gl.uniform3f(this.#place('glow'), glow, glow * 0.8, glow * 0.35);
      gl.drawArraysInstanced(gl.TRIANGLES, 0, drawn.mesh.corners, drawn.count);
    }
  }

  #bufferOf(mesh: Mesh): WebGLBuffer {
    const gl = this.#gl;
    let buffer = this.#meshes.get(mesh);
    if (!buffer) {
      buffer = gl.createBuffer();
      gl.bindBuffer(gl.ARRAY_BUFFER, buffer);
      gl.bufferData(gl.ARRAY_BUFFER, mesh.numbers, gl.STATIC_DRAW);
      this.#meshes.set(mesh, buffer);
    }
    return buffer;
  }

  #send({ matrices, stride, count }: Drawn, sent: Set<Float32Array>): void {
    const gl = this.#gl;
    let buffer = this.#instances.get(matrices);
    if (!buffer) {
      buffer = gl.createBuffer();
      gl.bindBuffer(gl.ARRAY_BUFFER, buffer);
      gl.bufferData(gl.ARRAY_BUFFER, matrices.byteLength, gl.DYNAMIC_DRAW);
      this.#instances.set(matrices, buffer);
    }
    gl.bindBuffer(gl.ARRAY_BUFFER, buffer);
    if (sent.has(matrices)) return;
    sent.add(matrices);
    // Of a flock only those that fly.
    const length = count > 1 ? count * stride : matrices.length;
    gl.bufferSubData(gl.ARRAY_BUFFER, 0, matrices, 0, length);
  }
}

/** What a camera sees: a perspective, from a point to another. Column by column. */
export function viewOf(
  { position: p, target: t, fov }: { position: Point; target: Point; fov: number },
  aspect: number,
  out: Float32Array,
): void {
  const [near, far] = [0.3, 160];
  const f = 1 / Math.tan((fov * Math.PI) / 360);
  const z = unit([p.x - t.x, p.y - t.y, p.z - t.z]);
  const x = unit([z[2], 0, -z[0]]);
  const y: Vec = [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]];
  const move = (axis: Vec) => -(axis[0] * p.x + axis[1] * p.y + axis[2] * p.z);
  const [a, b] = [(near + far) / (near - far), (2 * near * far) / (near - far)];
  const rows: readonly (readonly [Vec, number])[] = [[x, f / aspect], [y, f]]; // prettier-ignore
  for (let column = 0; column < 4; column++) {
    rows.forEach(([axis, scale], row) => (out[column * 4 + row] = scale * (column < 3 ? axis[column]! : move(axis))));
    const depth = column < 3 ? z[column]! : move(z);
    out[column * 4 + 2] = a * depth + (column === 3 ? b : 0);
    out[column * 4 + 3] = -depth;
  }
}

type Vec = readonly [number, number, number];
interface Point {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

function unit([x, y, z]: Vec): Vec {
  const length = Math.hypot(x, y, z) || 1;
  return [x / length, y / length, z / length];
}

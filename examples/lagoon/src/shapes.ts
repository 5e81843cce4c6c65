/** Geometry made by script: triangles with a normal and a color each corner, and how a corner moves when it bulges. */
export interface Mesh {
  /** Of each corner: position, normal, color, bulge: three numbers each. */
  readonly numbers: Float32Array;
  readonly corners: number;
}

type Vec = readonly [x: number, y: number, z: number];
type Color = readonly [r: number, g: number, b: number];

const minus = (a: Vec, b: Vec): Vec => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: Vec, b: Vec): Vec => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]; // prettier-ignore
const unit = (a: Vec): Vec => {
  const length = Math.hypot(...a) || 1;
  return [a[0] / length, a[1] / length, a[2] / length];
};
export const hex = (color: number): Color => [((color >> 16) & 255) / 255, ((color >> 8) & 255) / 255, (color & 255) / 255]; // prettier-ignore

/** Puts flat triangles together. */
export class Builder {
  readonly #numbers: number[] = [];

  triangle(a: Vec, b: Vec, c: Vec, color: number, bulge: (at: Vec) => Vec = () => [0, 0, 0]): this {
    const normal = unit(cross(minus(b, a), minus(c, a)));
    for (const at of [a, b, c]) this.#numbers.push(...at, ...normal, ...hex(color), ...bulge(at));
    return this;
  }

  quad(a: Vec, b: Vec, c: Vec, d: Vec, color: number, bulge?: (at: Vec) => Vec): this {
    return this.triangle(a, b, c, color, bulge).triangle(a, c, d, color, bulge);
  }

  /** A box about a point. */
  box([x, y, z]: Vec, [w, h, d]: Vec, color: number): this {
    const at = (i: number, j: number, k: number): Vec => [x + (i * w) / 2, y + (j * h) / 2, z + (k * d) / 2];
    return this.quad(at(-1, -1, 1), at(1, -1, 1), at(1, 1, 1), at(-1, 1, 1), color)
      .quad(at(1, -1, -1), at(-1, -1, -1), at(-1, 1, -1), at(1, 1, -1), color)
      .quad(at(1, -1, 1), at(1, -1, -1), at(1, 1, -1), at(1, 1, 1), color)
      .quad(at(-1, -1, -1), at(-1, -1, 1), at(-1, 1, 1), at(-1, 1, -1), color)
      .quad(at(-1, 1, 1), at(1, 1, 1), at(1, 1, -1), at(-1, 1, -1), color)
      .quad(at(-1, -1, -1), at(1, -1, -1), at(1, -1, 1), at(-1, -1, 1), color);
  }

  /** A solid of rings about the y axis, from the lowest to the highest: radius and height each. */
  turned(
    rings: readonly (readonly [radius: number, y: number])[],
    color: (ring: number) => number,
    sides = 14,
    bulge?: (at: Vec) => Vec,
  ): this {
    // prettier-ignore
    const at = ([radius, y]: readonly [number, number], i: number): Vec => {
      const angle = (2 * Math.PI * i) / sides;
      return [radius * Math.cos(angle), y, radius * Math.sin(angle)];
    };
    for (let k = 0; k + 1 < rings.length; k++)
      for (let i = 0; i < sides; i++)
        this.quad(at(rings[k]!, i + 1), at(rings[k]!, i), at(rings[k + 1]!, i), at(rings[k + 1]!, i + 1), color(k), bulge); // prettier-ignore
    return this;
  }

  get mesh(): Mesh {
    return { numbers: Float32Array.from(this.#numbers), corners: this.#numbers.length / 12 };
  }
}

/** A fishing boat of planks. */
export function hull(): Mesh {
  const section = (x: number, half: number, deck: number, keel: number): readonly Vec[] => [
    [x, deck, -half],
    [x, keel, -half * 0.45],
    [x, keel, half * 0.45],
    [x, deck, half],
  ];
  const sections = [section(-2.6, 0.75, 0.75, -0.2), section(-0.8, 1, 0.6, -0.45), section(1.2, 0.85, 0.7, -0.4), section(3, 0.06, 1.15, 0.1)]; // prettier-ignore
  const builder = new Builder();
  for (let i = 0; i < 3; i++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [sections[i]!, sections[i + 1]!];
      builder.quad(a[k]!, a[k + 1]!, b[k + 1]!, b[k]!, k === 1 ? 0x5b3a28 : 0xa3492f);
    }
  for (let i = 0; i < 3; i++) {
    const [a, b] = [sections[i]!, sections[i + 1]!];
    const low = ([x, y, z]: Vec): Vec => [x, y - 0.12, z * 0.94];
    builder.quad(low(a[3]!), low(b[3]!), low(b[0]!), low(a[0]!), 0xc79a62);
  }
  const [p, q, r, s] = sections[0]! as readonly [Vec, Vec, Vec, Vec];
  builder.quad(p, s, r, q, 0x8a3d28);
  return builder
    .box([-1.3, 1.05, 0], [1.1, 0.9, 0.95], 0xe8dcc0)
    .box([-1.3, 1.56, 0], [1.3, 0.12, 1.15], 0x39606b)
    .box([0.4, 2, 0], [0.1, 3, 0.1], 0x4a3222).mesh;
}

/** A sail that hangs from its foot at the origin. */
export function sail(): Mesh {
  const [foot, end, top]: Vec[] = [[0.1, 0, 0.02], [2.2, 0.25, 0.02], [0.1, 2.3, 0.02]]; // prettier-ignore
  return new Builder().triangle(foot!, end!, top!, 0xf0d9a8).triangle(foot!, top!, end!, 0xd8b877).mesh;
}

export function lantern(): Mesh {
  return new Builder().turned([[0.02, 0], [0.12, 0.05], [0.14, 0.24], [0.02, 0.36]], () => 0xffd27a, 8).mesh; // prettier-ignore
}

/** A buoy whose drum bulges when its bell is struck. */
export function buoy(): Mesh {
  const bulge = ([x, y, z]: Vec): Vec => (y > 0.9 ? [0, 0, 0] : [x * 0.35, -0.1 * y, z * 0.35]);
  const builder = new Builder()
    .turned([[0.05, -0.5], [1, -0.35], [1.12, 0.3], [0.7, 0.62], [0.05, 0.66]], (i) => (i === 1 ? 0xd8412f : 0x8f2a22), 18, bulge); // prettier-ignore
  for (const [x, z] of [
    [0.55, 0],
    [-0.28, 0.48],
    [-0.28, -0.48],
  ] as const) {
    // prettier-ignore
    builder.quad([x - 0.05, 0.6, z], [x + 0.05, 0.6, z], [x * 0.15 + 0.05, 2.3, z * 0.15], [x * 0.15 - 0.05, 2.3, z * 0.15], 0x5a4632); // prettier-ignore
    builder.quad([x + 0.05, 0.6, z], [x - 0.05, 0.6, z], [x * 0.15 - 0.05, 2.3, z * 0.15], [x * 0.15 + 0.05, 2.3, z * 0.15], 0x5a4632); // prettier-ignore
  }
  return builder.turned([[0.12, 2.26], [0.16, 2.34], [0.02, 2.5]], () => 0xffc457, 8).mesh; // prettier-ignore
}

/** It hangs from its crown, which is the origin. */
export function bell(): Mesh {
  return new Builder().turned([[0.42, -0.78], [0.34, -0.6], [0.24, -0.2], [0.06, 0]], () => 0xd6a33c, 14).mesh; // prettier-ignore
}

export function gullBody(): Mesh {
  return new Builder()
    .triangle([0, 0, 0.42], [-0.1, 0, -0.2], [0, 0.12, -0.1], 0xf4f4ee)
    .triangle([0, 0, 0.42], [0, 0.12, -0.1], [0.1, 0, -0.2], 0xf4f4ee)
    .triangle([0, 0, 0.42], [0.1, 0, -0.2], [-0.1, 0, -0.2], 0xd8dcdc)
    .triangle([0, 0.12, -0.1], [-0.1, 0, -0.2], [0, 0.02, -0.5], 0x9aa3a8)
    .triangle([0, 0.12, -0.1], [0, 0.02, -0.5], [0.1, 0, -0.2], 0x9aa3a8).mesh;
}

/** A wing from its joint, to one side. */
export function wing(side: -1 | 1): Mesh {
  const root: Vec[] = [[0, 0, 0.2], [0, 0, -0.16]]; // prettier-ignore
  const tip: Vec = [0.85 * side, 0.04, -0.12];
  const mid: Vec = [0.45 * side, 0.1, 0.1];
  const builder = new Builder();
  for (const [a, b, c] of [
    [root[0]!, mid, root[1]!],
    [mid, tip, root[1]!],
  ] as const)
    // prettier-ignore
    builder.triangle(a, b, c, 0xe9ecec).triangle(a, c, b, 0xb9c2c6);
  return builder.mesh;
}

/** Rocks and a jetty at the shore. */
export function shore(): Mesh {
  const builder = new Builder();
  const rocks = [[12, -0.4, -3, 2.6], [15.5, -0.6, 1, 3.4], [10.5, -0.5, 7.5, 1.8], [18, -0.5, -7, 4], [-20, -0.8, -22, 5], [-8, -0.6, -26, 3.2]] as const; // prettier-ignore
  rocks.forEach(([x, y, z, r], n) => {
    const point = (i: number, level: number): Vec => {
      const angle = (2 * Math.PI * i) / 7 + n;
      const wide = r * [1, 0.8, 0.35][level]! * (0.8 + 0.3 * Math.abs(Math.sin(i * 2.3 + n)));
      return [x + wide * Math.cos(angle), y + r * [0, 0.5, 0.85][level]!, z + wide * Math.sin(angle)];
    };
    for (let level = 0; level < 2; level++)
      for (let i = 0; i < 7; i++)
        builder.quad(point(i + 1, level), point(i, level), point(i, level + 1), point(i + 1, level + 1), [0x4c5a5a, 0x5d6b66][level]!); // prettier-ignore
    for (let i = 0; i < 7; i++) builder.triangle([x, y + r * 0.95, z], point(i + 1, 2), point(i, 2), 0x73806f);
  });
  for (let i = 0; i < 7; i++) builder.box([5.6 + i * 0.9, 0.55, -0.9], [0.8, 0.12, 1.6], i % 2 ? 0x7a5c3e : 0x6d5136);
  for (const x of [5.4, 8.1, 11]) builder.box([x, -0.2, -0.25], [0.18, 1.7, 0.18], 0x4a3726).box([x, -0.2, -1.55], [0.18, 1.7, 0.18], 0x4a3726); // prettier-ignore
  return builder.mesh;
}

/** The surface of the lagoon: squares, which the renderer moves. */
export function water(): Mesh {
  const builder = new Builder();
  const [size, cells] = [120, 48];
  const at = (i: number, k: number): Vec => [(i / cells - 0.5) * size, 0, (k / cells - 0.5) * size - 6];
  for (let i = 0; i < cells; i++)
    for (let k = 0; k < cells; k++) builder.quad(at(i, k), at(i, k + 1), at(i + 1, k + 1), at(i + 1, k), 0x2f7d86);
  return builder.mesh;
}

import { refuse } from '../errors.js';
import type { GltfParts } from './container.js';
import { Place } from './places.js';

const TYPES: Readonly<Record<string, number>> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 };

/** Component types: bytes, and what reads one. */
const COMPONENTS = {
  5120: { bytes: 1, most: 127, read: (view, at) => view.getInt8(at) },
  5121: { bytes: 1, most: 255, read: (view, at) => view.getUint8(at) },
  5122: { bytes: 2, most: 32767, read: (view, at) => view.getInt16(at, true) },
  5123: { bytes: 2, most: 65535, read: (view, at) => view.getUint16(at, true) },
  5125: { bytes: 4, most: 4294967295, read: (view, at) => view.getUint32(at, true) },
  5126: { bytes: 4, most: 1, read: (view, at) => view.getFloat32(at, true) },
} as const satisfies Record<number, { bytes: number; most: number; read: (view: DataView, at: number) => number }>;
type ComponentType = keyof typeof COMPONENTS;

/** How many numbers all that is read may have together: more keys than the text of a reel has room for. */
const MOST_NUMBERS = 2_000_000;

/** Reads what of a file's buffers its animations need. Every length is checked before anything is read. */
export class Accessors {
  readonly #all: readonly Place[];
  readonly #views: readonly Place[];
  readonly #files: readonly Place[];
  readonly #buffers = new Map<number, Uint8Array>();
  #numbers = 0;

  /** @param resource returns the bytes of a file beside this one by its relative `uri`; `undefined` when there is none */
  constructor(
    private readonly parts: GltfParts,
    private readonly resource: (uri: string) => Uint8Array | undefined,
  ) {
    const file = new Place(parts.json);
    this.#all = file.at('accessors').list();
    this.#views = file.at('bufferViews').list();
    this.#files = file.at('buffers').list();
  }

  /**
   * Returns the numbers of an accessor, normalized integers as −1 to 1.
   *
   * @param width numbers of each element that are expected
   */
  read(reference: Place, width: number): Float64Array {
    const accessor: Place = this.#all[reference.index(this.#all.length)]!;
    const type = accessor.at('type').text() ?? '';
    if (TYPES[type] !== width) accessor.at('type').refuse(`"${type}" where ${width} numbers an element are needed`);
    const count = accessor.at('count').index(2 ** 31);
    this.#numbers += count * width;
    if (this.#numbers > MOST_NUMBERS)
      accessor.at('count').refuse(`${count} elements: more than ${MOST_NUMBERS} numbers in all`, 'reduce the keys');
    const out = new Float64Array(count * width);
    if (accessor.at('bufferView').isThere) this.#fill(accessor, accessor, count, width, (k, n) => (out[k] = n));
    const sparse = accessor.at('sparse');
    if (sparse.isThere) this.#replace(accessor, sparse, width, out);
    if (!out.every((n) => Number.isFinite(n))) accessor.refuse('it has numbers that are not finite');
    return out;
  }

  #replace(accessor: Place, sparse: Place, width: number, out: Float64Array): void {
    const count = sparse.at('count').index(out.length / width + 1);
    const indices = new Float64Array(count);
    const isWhole = { normalized: false };
    this.#fill(sparse.at('indices'), sparse.at('indices'), count, 1, (k, n) => (indices[k] = n), isWhole);
    this.#fill(sparse.at('values'), accessor, count, width, (k, n) => {
      const to = indices[Math.floor(k / width)]! * width + (k % width);
      if (to >= out.length) sparse.at('indices').refuse('an index beyond the end');
      out[to] = n;
    });
  }

  /** Reads `count` elements. The kind of number is that of `form`. */
  #fill(
    from: Place,
    form: Place,
    count: number,
    width: number,
    put: (k: number, n: number) => void,
    { normalized = form.at('normalized').value === true } = {},
  ): void {
    const component = form.at('componentType').value as ComponentType;
    if (!Object.hasOwn(COMPONENTS, component)) form.at('componentType').refuse(`unknown type ${String(component)}`);
    const { bytes, most, read } = COMPONENTS[component];
    const view: Place = this.#views[from.at('bufferView').index(this.#views.length)]!;
    const data = this.#buffer(view);
    const stride = view.at('byteStride').index(253, bytes * width);
    const start = view.at('byteOffset').index(2 ** 32, 0);
    const length = view.at('byteLength').index(2 ** 32);
    const offset = from.at('byteOffset').index(2 ** 32, 0);
    const needed = count === 0 ? 0 : offset + stride * (count - 1) + bytes * width;
    if (needed > length) from.refuse(`it needs ${needed} bytes of a view of ${length}`);
    if (start + length > data.length) view.refuse(`it goes to byte ${start + length} of a buffer of ${data.length}`);
    const numbers = new DataView(data.buffer, data.byteOffset + start, length);
    for (let i = 0, k = 0; i < count; i++) {
      for (let c = 0; c < width; c++, k++) {
        const n = read(numbers, offset + i * stride + c * bytes);
        put(k, normalized && component !== 5126 ? Math.max(n / most, -1) : n);
      }
    }
  }

  #buffer(view: Place): Uint8Array {
    const index = view.at('buffer').index(this.#files.length);
    const known = this.#buffers.get(index);
    if (known) return known;
    const buffer: Place = this.#files[index]!;
    const uri = buffer.at('uri').text();
    const bytes = uri === undefined ? this.parts.binary : uri.startsWith('data:') ? dataOf(buffer, uri) : this.#beside(buffer, uri); // prettier-ignore
    if (!bytes) buffer.refuse(uri === undefined ? 'the file has no binary chunk' : `${uri} was not found`);
    const length = buffer.at('byteLength').index(2 ** 32);
    if (length > bytes.length) buffer.refuse(`it says ${length} bytes, but has ${bytes.length}`);
    this.#buffers.set(index, bytes);
    return bytes;
  }

  #beside(buffer: Place, uri: string): Uint8Array | undefined {
    const place: Place = buffer.at('uri');
    const path = decoded(uri) ?? place.refuse(`${JSON.stringify(uri)} is not a valid URI`);
    // A file beside it, or below: never one that the user did not mean.
    const isOutside = /^[a-z][a-z0-9+.-]*:|^[/\\]|\\|\0/i.test(path) || path.split('/').includes('..');
    if (isOutside) place.refuse(`${JSON.stringify(uri)} is not in the folder of the file`, 'put the file beside it');
    return this.resource(path);
  }
}

function decoded(uri: string): string | undefined {
  try {
    return decodeURIComponent(uri);
  } catch {
    return undefined;
  }
}

function dataOf(buffer: Place, uri: string): Uint8Array {
  const comma = uri.indexOf(',');
  if (comma < 0 || !uri.slice(0, comma).endsWith(';base64'))
    buffer.at('uri').refuse('a data URI that is not in base64');
  try {
    return Uint8Array.from(atob(uri.slice(comma + 1)), (letter) => letter.charCodeAt(0));
  } catch {
    return refuse('gltf', `${buffer.pointer}/uri: not valid base64`, 'export the file again');
  }
}

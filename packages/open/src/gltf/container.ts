import { refuse } from '../errors.js';

/** The JSON of a glTF file, as far as it has been looked at: nothing. */
export type Json = { readonly [member: string]: unknown };

/** A glTF file in its parts. */
export interface GltfParts {
  readonly json: Json;
  /** The binary chunk of a `.glb`. */
  readonly binary?: Uint8Array;
}

const MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BINARY_CHUNK = 0x004e4942;

/**
 * Takes a `.glb` or `.gltf` apart. Here rather than by a package, because files with pictures beside them have to be
 * read too, and every length is checked before it is used.
 */
export function readParts(bytes: Uint8Array): GltfParts {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length >= 4 && view.getUint32(0, true) === MAGIC) return readBinary(bytes, view);
  return { json: readJson(bytes, 'the file') };
}

function readBinary(bytes: Uint8Array, view: DataView): GltfParts {
  if (bytes.length < 20) refuse('gltf', `the file ends after ${bytes.length} bytes`, 'export it again');
  const [version, length] = [view.getUint32(4, true), view.getUint32(8, true)];
  if (version !== 2) refuse('gltf', `the file is glTF ${version}`, 'export it as glTF 2.0');
  if (length > bytes.length)
    refuse('gltf', `the file says that it has ${length} bytes, but it has ${bytes.length}`, 'export it again');
  let json: Json | undefined;
  let binary: Uint8Array | undefined;
  for (let at = 12; at + 8 <= length;) {
    const [size, type] = [view.getUint32(at, true), view.getUint32(at + 4, true)];
    if (at + 8 + size > length)
      refuse('gltf', `a chunk at byte ${at} has ${size} bytes, and goes beyond the end of the file`, 'export it again');
    const chunk = bytes.subarray(at + 8, at + 8 + size);
    if (type === JSON_CHUNK && !json) json = readJson(chunk, 'its JSON chunk');
    else if (type === BINARY_CHUNK && !binary) binary = chunk;
    at += 8 + size;
  }
  if (!json) refuse('gltf', 'the file has no JSON chunk', 'export it again');
  return { json, ...(binary && { binary }) };
}

/** Characters of JSON beside the numbers that it has as data. */
const MOST_JSON = 16 * 1024 * 1024;

function readJson(bytes: Uint8Array, what: string): Json {
  let json: unknown;
  let plain = 0;
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    plain = text.length;
    for (const [data] of text.matchAll(/"data:[^"]*"/g)) plain -= data.length;
    if (plain <= MOST_JSON) json = JSON.parse(text);
  } catch (error) {
    refuse('gltf', `${what} is not JSON: ${(error as Error).message}`, 'use a .gltf or .glb file');
  }
  if (plain > MOST_JSON)
    refuse('gltf', `${what} has ${plain} characters, the limit is ${MOST_JSON}`, 'use a smaller file');
  if (typeof json !== 'object' || json === null || Array.isArray(json))
    refuse('gltf', `${what} is not a JSON object`, 'use a .gltf or .glb file');
  const { asset } = json as { asset?: { version?: unknown } };
  const version = asset?.version;
  if (typeof version !== 'string' || !version.startsWith('2.'))
    refuse('gltf', `asset.version is ${JSON.stringify(version)}`, 'export it as glTF 2.0');
  return json as Json;
}

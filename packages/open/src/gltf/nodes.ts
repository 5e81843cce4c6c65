import { MathUtils } from '@gltf-transform/core';
import type { Place } from './places.js';

/** A node of a file: what a role can be made of. */
export interface GltfNode {
  readonly index: number;
  readonly place: Place;
  readonly name: string | undefined;
  parent: GltfNode | undefined;
  readonly translation: readonly number[] | undefined;
  readonly rotation: readonly number[] | undefined;
  readonly scale: readonly number[] | undefined;
  /** Names and rest values of its morph targets. */
  readonly morphs: readonly { readonly name: string; readonly rest: number }[];
  /** Vertical field of view of its camera in radians, and the camera's index. */
  readonly camera: { readonly index: number; readonly yfov: number } | undefined;
}

/** Reads the nodes with their parents. Refuses nodes with two parents, and circles. */
export function readNodes(file: Place): GltfNode[] {
  const [meshes, cameras] = [file.at('meshes').list(), file.at('cameras').list()];
  const nodes = file
    .at('nodes')
    .list()
    .map((place, index) => readNode(place, index, meshes, cameras));
  for (const node of nodes) {
    for (const child of node.place.at('children').list()) {
      const below = nodes[child.index(nodes.length)]!;
      if (below.parent) child.refuse(`node ${below.index} has two parents, ${below.parent.index} and ${node.index}`);
      below.parent = node;
    }
  }
  // One parent each: a circle is a way up that does not end.
  const ends = new Set<GltfNode>();
  for (const node of nodes) {
    const way = new Set<GltfNode>();
    for (let one: GltfNode | undefined = node; one && !ends.has(one); one = one.parent) {
      if (way.has(one)) one.place.refuse('it is above itself: its children lead back to it');
      way.add(one);
    }
    for (const one of way) ends.add(one);
  }
  return nodes;
}

function readNode(place: Place, index: number, meshes: readonly Place[], cameras: readonly Place[]): GltfNode {
  const matrix = place.at('matrix').numbers(16);
  const parts = { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] };
  if (matrix) MathUtils.decompose(matrix as never, parts.translation as never, parts.rotation as never, parts.scale as never); // prettier-ignore
  const read = (member: keyof typeof parts, width: number) =>
    matrix ? parts[member] : place.at(member).numbers(width);
  return {
    ...{ index, place, name: place.at('name').text(), parent: undefined },
    translation: read('translation', 3),
    rotation: read('rotation', 4),
    scale: read('scale', 3),
    morphs: morphsOf(meshes, place),
    camera: cameraOf(cameras, place),
  };
}

function morphsOf(meshes: readonly Place[], node: Place): GltfNode['morphs'] {
  if (!node.at('mesh').isThere) return [];
  const mesh = meshes[node.at('mesh').index(meshes.length)]!;
  const [primitive] = mesh.at('primitives').list();
  const count = primitive?.at('targets').list().length ?? 0;
  const weights = (node.at('weights').isThere ? node : mesh).at('weights').numbers(count) ?? [];
  const extras = mesh.value as { extras?: { targetNames?: unknown } };
  const { targetNames } = extras.extras ?? {};
  const names: readonly unknown[] = Array.isArray(targetNames) ? (targetNames as unknown[]) : [];
  return Array.from({ length: count }, (_, k) => ({
    name: typeof names[k] === 'string' ? names[k] : `target${k + 1}`,
    rest: weights[k] ?? 0,
  }));
}

function cameraOf(cameras: readonly Place[], node: Place): GltfNode['camera'] {
  if (!node.at('camera').isThere) return undefined;
  const index = node.at('camera').index(cameras.length);
  const perspective = cameras[index]!.at('perspective');
  if (!perspective.isThere) return undefined;
  const yfov = perspective.at('yfov').value;
  return typeof yfov === 'number' && yfov > 0 && yfov < Math.PI ? { index, yfov } : undefined;
}

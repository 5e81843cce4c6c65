import { digest } from '../errors/digest.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import type { ResolvedCue } from '../reel/resolve/cue.js';
import type { LoopMode } from '../time/iteration.js';
import type { Kind } from '../value/kind.js';
import { Clip } from './clip.js';
import type { CompiledClip, ReelFacts } from './compiled.js';
import type { Curves } from './curves.js';
import { inOrder } from './layout.js';
import { compactArray } from './compact-array.js';
import type { NamesOf } from './names-of.js';
import { Reel } from './reel.js';

/** The version of the form below. A game is built and shipped with one version of the library, so that one is enough. */
export const PACKED_VERSION = 8;

/**
 * A compiled reel, written by `compileReel` and read by `loadReel` of the same version. Plain JSON; its members are
 * internal.
 */
export interface PackedReel {
  /** Version of the form. */
  readonly compiled: number;
  /** A digest of the rest. */
  readonly check: number;
  /** @internal */
  readonly facts: Omit<ReelFacts, 'slots'>;
  /** @internal Every property: role, property, kind, rest value, and whether the reel declares the rest value. */
  readonly properties: readonly (readonly [
    role: string,
    property: string,
    kind: string,
    rest: readonly number[],
    given: boolean,
  ])[];
  /** @internal */
  readonly clips: Readonly<Record<string, PackedClip>>;
}

export interface PackedClip {
  readonly fps: number;
  readonly duration: number;
  readonly mode: LoopMode;
  /** `null` repeats forever. */
  readonly count: number | null;
  readonly rate: number;
  readonly after: CompiledClip['after'];
  readonly cues: readonly ResolvedCue[];
  readonly spans: CompiledClip['spans'];
  readonly activations: CompiledClip['activations'];
  /** Places in the list of properties. */
  readonly slots: readonly number[];
  /** The lists of `Curves` by name; `null` in it is Infinity. */
  readonly curves: Readonly<Record<string, readonly (number | null)[]>>;
}

/**
 * Loads a reel that `compileReel` or `unspool compile` has written. Nothing is parsed or checked. Throws for data of
 * another version, and for data that was modified.
 */
export function loadReel<const D>(data: D): Reel<NamesOf<D>> {
  const packed = data as unknown as PackedReel;
  const version = (packed as PackedReel | null | undefined)?.compiled;
  if (version !== PACKED_VERSION) {
    throw new UnspoolError(
      'reel/not-compiled',
      `the compiled reel has version ${show(version)}, expected ${PACKED_VERSION}`,
      'compile the reel again',
    );
  }
  const { check, ...all } = packed;
  if (check !== digest(all))
    throw new UnspoolError('reel/damaged', 'the compiled reel was modified', 'compile the reel again');
  // A copy of its own: plain JSON that nobody else can change.
  const { facts, properties, clips } = JSON.parse(JSON.stringify(all)) as typeof all;
  const known = inOrder(
    properties.map(([role, property, kind, rest, restGiven]) => {
      return { name: `${role}.${property}`, role, property, kind: kind as Kind, width: rest.length, rest, restGiven };
    }),
  );
  const whole = { ...facts, slots: known };
  return new Reel<NamesOf<D>>({
    facts: whole,
    clipNames: Object.keys(clips),
    clip(name) {
      const { slots, curves, mode, count, ...clip } = clips[name]!;
      const compiled = {
        ...clip,
        name,
        repeat: { mode, count: count ?? Infinity },
        slots: inOrder(slots.map((place) => known[place]!)),
        curves: curvesOf(curves),
      };
      return new Clip(compiled, whole);
    },
  });
}

function curvesOf(lists: PackedClip['curves']): Curves {
  const doubles = (name: string) => doublesOf(lists[name]!);
  const whole = (name: string) => new Int32Array(lists[name] as readonly number[]);
  const scales = doubles('scales');
  return {
    count: scales.length,
    scales,
    heads: whole('heads'),
    buckets: compactArray(lists['buckets'] as readonly number[]),
    starts: doubles('starts'),
    codes: new Uint8Array(lists['codes'] as readonly number[]),
    tables: whole('tables'),
    from: whole('from'),
    values: doubles('values'),
    table: doubles('table'),
    gains: doubles('gains'),
  };
}

function doublesOf(list: readonly (number | null)[]): Float64Array {
  const doubles = new Float64Array(list as readonly number[]);
  for (let i = 0; i < list.length; i++) if (list[i] === null) doubles[i] = Infinity;
  return doubles;
}

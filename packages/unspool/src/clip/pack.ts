import { mustBeReel } from './expect.js';
import type { SheetDocument } from '../reel/document/document.js';
import type { ChainLink, FacingSide } from '../reel/document/sequences.js';
import type { Clip } from './clip.js';
import { PACKED_VERSION, type PackedClip, type PackedReel } from './packed.js';
import type { ReelNames } from './names.js';
import type { Reel } from './reel.js';
import { digest } from '../errors/digest.js';

/** A packed reel with the names of the reel it comes from, for `loadReel`. */
export type Packed<N extends ReelNames> = PackedReel & {
  readonly roles: Readonly<Record<N['role'], { readonly sheet?: SheetDocument }>>;
  readonly clips: Readonly<
    Record<
      N['clip'],
      { readonly cues: readonly { readonly name: N['cue'] }[]; readonly spans: Readonly<Record<N['span'], unknown>> }
    >
  >;
  readonly chains: Readonly<Record<N['chain'], readonly ChainLink[]>>;
  readonly facings: Readonly<Record<N['facing'], readonly FacingSide[]>>;
  readonly routines: {
    readonly [R in N['routine']]: {
      readonly inputs: {
        readonly [I in keyof N['routines'][R]['inputs']]: { readonly kind: N['routines'][R]['inputs'][I] };
      };
      readonly rules: readonly { readonly name: N['routines'][R]['rule'] }[];
    };
  };
};

/**
 * Compiles all clips of a reel ahead of time, for `loadReel` of `unspool/play`. Returns plain JSON. A game that ships
 * it does not need the parser, the checks or the compiler.
 */
export function compileReel<N extends ReelNames>(reel: Reel<N>): Packed<N> {
  mustBeReel(reel);
  const { slots, ...facts } = reel.facts;
  const places = new Map(slots.map(({ name }, place) => [name, place]));
  const packed: unknown = {
    compiled: PACKED_VERSION,
    facts,
    properties: slots.map(({ role, property, kind, rest, restGiven }) => [role, property, kind, rest, restGiven]),
    clips: Object.fromEntries(Object.values<Clip>(reel.clips).map((clip) => [clip.name, packClip(clip, places)])),
  };
  return { ...(packed as object), check: digest(packed) } as unknown as Packed<N>;
}

function packClip(clip: Clip, places: ReadonlyMap<string, number>): PackedClip {
  const { fps, duration, repeat, rate, after, cues, spans, activations, layout, curves } = clip;
  return {
    ...{ fps, duration, mode: repeat.mode, count: repeat.count === Infinity ? null : repeat.count, rate, after },
    ...{ cues, spans, activations },
    slots: layout.slots.map(({ name }) => places.get(name)!),
    curves: Object.fromEntries(
      Object.entries<number | ArrayLike<number>>({ ...curves })
        .filter(isList)
        .map(([name, list]) => [name, Array.from(list, (n) => (n === Infinity ? null : n))]),
    ),
  };
}

/** The lists of `Curves`; the number of curves follows from them. */
function isList(entry: [string, number | ArrayLike<number>]): entry is [string, ArrayLike<number>] {
  return typeof entry[1] !== 'number';
}

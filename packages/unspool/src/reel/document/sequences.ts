import type { LoopDocument, ReelDocument } from './document.js';
import type { Time } from '../../time/units.js';

/** A link of a chain: a clip and its play options. Times are as written, in frames of the clip. */
export interface ChainLink {
  readonly clip: string;
  readonly loop?: LoopDocument;
  readonly rate?: number;
  /** The span of the clip that is played. Default: the whole clip. */
  readonly span?: string;
  readonly fade?: Time;
}

/** A side of a facing: a direction and the clip for it. */
export interface FacingSide {
  /** As written (`left`), or the index in a list. */
  readonly name: string;
  /** Unit vector; y points down, as on a screen. */
  readonly toward: readonly [x: number, y: number];
  readonly clip: string;
  /** Whether the clip is shown mirrored, left to right. */
  readonly flip: boolean;
}

const HALF = Math.SQRT1_2;
/** The sides that have names, clockwise on a screen. */
export const SIDES: Readonly<Record<string, readonly [x: number, y: number]>> = {
  right: [1, 0],
  'down-right': [HALF, HALF],
  down: [0, 1],
  'down-left': [-HALF, HALF],
  left: [-1, 0],
  'up-left': [-HALF, -HALF],
  up: [0, -1],
  'up-right': [HALF, -HALF],
};

/** The chains of a checked reel. */
export function chainsOf({ chains = {} }: ReelDocument): Record<string, readonly ChainLink[]> {
  const links = Object.entries(chains).map(([name, chain]) => [
    name,
    chain.map((link): ChainLink => {
      if (typeof link === 'string') return { clip: link };
      const { about, ...message } = link;
      return message as ChainLink;
    }),
  ]);
  return Object.fromEntries(links) as Record<string, readonly ChainLink[]>;
}

/** The facings of a checked reel, their sides in the order in which they are written. */
export function facingsOf({ facings = {} }: ReelDocument): Record<string, readonly FacingSide[]> {
  const sides = Object.entries(facings).map(([name, facing]) => {
    if (Array.isArray(facing)) {
      const list = facing as readonly { readonly toward: readonly [number, number]; readonly clip: string }[];
      return [
        name,
        list.map(({ toward: [x, y], clip }, place): FacingSide => {
          const length = Math.hypot(x, y);
          return { name: String(place), toward: [x / length, y / length], clip, flip: false };
        }),
      ];
    }
    const named = facing as Readonly<Record<string, string | { readonly mirror: string }>>;
    return [
      name,
      Object.entries(named).map(([side, message]): FacingSide => {
        const flip = typeof message !== 'string';
        return { name: side, toward: SIDES[side]!, clip: (flip ? named[message.mirror] : message) as string, flip };
      }),
    ];
  });
  return Object.fromEntries(sides) as Record<string, readonly FacingSide[]>;
}

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { Crowd, parseReel, Player, type LoopMode } from '../index.js';

/**
 * A twin that knows no rounding: all times are whole quarters of a frame, and BigInt divides them. Clips, players,
 * crowds and parts must be where it says, and exactly on the end of an iteration where it says so.
 */
interface Case {
  readonly fps: number;
  /** Frames of one iteration. */
  readonly length: number;
  readonly mode: LoopMode;
  /** Quarters of an iteration; 0 for an endless clip. */
  readonly quarters: number;
  readonly isBack: boolean;
  readonly speed: number;
  /** Frames of the clip since the start, at its own speed. */
  readonly frames: number;
}

interface Place {
  /** Share of an iteration, 0 to 1; exactly 0 or 1 at its ends. */
  readonly share: number;
  readonly iteration: number;
  readonly isOver: boolean;
}

function twin({ length, mode, quarters, isBack, frames }: Case): Place {
  const one = 4n * BigInt(length);
  const end = quarters === 0 ? undefined : BigInt(quarters) * BigInt(length);
  const passed = BigInt(4 * frames);
  // Played backwards, a counted clip begins at its end, an endless one at the end of iteration 0.
  const at = isBack ? (end ?? one) - passed : passed;
  const isOver = end !== undefined && (isBack ? at <= 0n : at >= end);
  const on = isOver ? (isBack ? 0n : end) : at;
  // A playhead on a boundary has begun the next iteration in its direction, unless the clip is over.
  const takesLower = isBack !== isOver;
  let iteration = on / one;
  if (on < 0n && on % one !== 0n) iteration -= 1n;
  if (takesLower && on % one === 0n && !(isOver && isBack)) iteration -= 1n;
  const inside = on - iteration * one;
  const share = mode === 'ping-pong' && iteration % 2n !== 0n ? one - inside : inside;
  return { share: Number(share) / Number(one), iteration: Number(iteration), isOver };
}

const DAY = 86_400;
const FPS = [24, 25, 30, 50, 59.94, 60, 120];

function caseOf(farthest: number): fc.Arbitrary<Case> {
  return fc
    .record({
      fps: fc.constantFrom(...FPS),
      length: fc.oneof(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 3600 * 24 })),
      mode: fc.constantFrom<LoopMode>('loop', 'ping-pong'),
      quarters: fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 20 }), fc.integer({ min: 1, max: 4e6 })),
      isBack: fc.boolean(),
      speed: fc.constantFrom(1, 2, 0.5, 3),
      // Half of them whole iterations on, where rounding decides.
      iterations: fc.oneof(fc.nat(12), fc.nat(farthest)),
      rest: fc.oneof(fc.constant(0), fc.nat(1)),
    })
    .map(({ iterations, rest, ...one }) => ({
      ...one,
      frames: iterations * one.length + Math.floor(rest * one.length * 0.37),
    }));
}

const reelOf = ({ fps, length, mode, quarters, isBack, speed, frames }: Case) => {
  const loop = quarters === 0 ? mode : { mode, count: quarters / 4 };
  const c = {
    fps,
    duration: `${length}f` as const,
    loop,
    tracks: {
      'claw.glow': [
        { at: 0, value: 0 },
        { at: `${length}f` as const, value: 1 },
      ],
    },
  };
  const part = {
    clip: 'c',
    at: 0,
    until: `${Math.ceil(frames / speed) + 5 * length}f` as const,
    rate: isBack ? -speed : speed,
  };
  return { unspool: 1 as const, roles: { claw: { rest: { glow: 0 } } }, clips: { c, scene: { fps, parts: [part] } } };
};

/** Compares what is shown; where the twin is on the end of an iteration, to the bit. */
function expectShare(found: number, { share }: Place, one: Case): void {
  if (share === 0 || share === 1) expect(found).toBe(share);
  else expect(Math.abs(found - share)).toBeLessThan(1e-9 + (8 * Number.EPSILON * one.frames) / one.length);
}

const expectGlow = (value: unknown, place: Place, one: Case) => expectShare(value as number, place, one);

describe('iterations, compared with exact arithmetic', () => {
  test('a clip sampled at a time', () => {
    fc.assert(
      fc.property(caseOf(1e6), (one) => {
        const reel = parseReel<unknown>(reelOf({ ...one, frames: 1, isBack: false }));
        // A time has no direction: that of a playhead that moves forward.
        expectGlow(
          reel
            .clip('c')
            .sample(one.frames / one.fps)
            .get('claw.glow'),
          twin({ ...one, isBack: false }),
          one,
        );
      }),
      runs(400),
    );
  });

  test('a player and a crowd, by frames and at once', () => {
    fc.assert(
      fc.property(caseOf(1e6), fc.integer({ min: 1, max: 50 }), fc.boolean(), (one, some, isHeard) => {
        // The seconds of long frames are rounded: those of more than a day together by up to a nanosecond.
        const steps = one.frames / one.fps / one.speed < DAY ? some : 1;
        const rate = one.isBack ? -one.speed : one.speed;
        const reel = parseReel<unknown>(reelOf({ ...one, frames: 1 }));
        const cast = { claw: { glow: 0 } };
        const player = new Player(reel, { cast });
        const crowd = new Crowd(reel);
        // What a handler hears is played iteration by iteration, all others are passed over at once.
        if (isHeard && one.frames / one.length < 4000) player.on('loop', () => {});
        const playback = player.play('c', { rate });
        const id = crowd.add('c', { rate });
        const step = Math.ceil(one.frames / steps);
        for (let from = 0; from <= one.frames; from += step || 1) {
          const dt = Math.min(step, one.frames - from) / one.fps / one.speed;
          player.tick(dt);
          crowd.tick(dt);
        }
        const place = twin(one);
        expectShare(playback.time / (one.length / one.fps), place, one);
        expect([playback.iteration, playback.active]).toEqual([place.iteration, !place.isOver]);
        expectGlow(cast.claw.glow, place, one);
        expectShare(crowd.timeOf(id) / (one.length / one.fps), place, one);
        expect(crowd.isOver(id)).toBe(place.isOver);
      }),
      runs(400),
    );
  });

  test('a part', () => {
    fc.assert(
      fc.property(caseOf(300), ({ frames, ...rest }) => {
        // On frames of the scene.
        const one = { ...rest, frames: frames * rest.speed };
        fc.pre((frames + 5 * one.length) / one.fps < DAY);
        const scene = parseReel<unknown>(reelOf(one)).clip('scene');
        expectGlow(scene.sample(frames / one.fps).get('claw.glow'), twin(one), one);
      }),
      runs(200),
    );
  });
});

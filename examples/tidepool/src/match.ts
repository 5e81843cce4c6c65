import type { Player, RoutineRun } from 'unspool';
import { randomNumbers, startRoutine, type NamesOf } from 'unspool';
import { HitWorld, type Hit, type HitBody, type HitShape } from 'unspool/hit';
import type crabReel from '../reels/crab.reel.json';
import type urchinReel from '../reels/urchin.reel.json';

export type Crab = Player<NamesOf<typeof crabReel>>;
export type Urchin = Player<NamesOf<typeof urchinReel>>;

export const URCHINS = 9;
/** Where the crab begins, and how large it is. */
export const HOME = { x: 300, y: 340 };
export const HOME_SCALE = 1.5;
/** Px a second, at most. */
const SPEED = 150;
/** What urchins can sting. */
const SOFT: HitShape = { kind: 'circle', center: [0, 3], radius: 22 };
/** Where the crab may go, and where urchins turn around. */
const WATER = { left: 90, top: 110, right: 870, bottom: 510 };

/** An urchin's way: straight from where it was at a time, back and forth between the shores. */
interface Drift {
  x: number;
  y: number;
  vx: number;
  vy: number;
  since: number;
}

/**
 * The crab among the urchins: who moves where, and what the claw hits. It knows no page and no picture, so that a
 * server, or the example `referee`, decides the same hits from the same reels.
 */
export class Match {
  readonly world: HitWorld;
  /** What the crab wants decides what it plays. */
  readonly act: RoutineRun<NamesOf<typeof crabReel>, 'crab'>;
  /** All hits so far. */
  readonly hits: Hit[] = [];
  /** Hears of each. */
  onHit: (hit: Hit) => void = () => {};
  readonly #drifts: readonly Drift[];
  readonly #soft: HitBody;

  /**
   * @param home where the crab is: moved by `tick`
   * @param seed for where the urchins begin, and where to
   */
  constructor(
    readonly crab: Crab,
    readonly urchins: readonly Urchin[],
    readonly home: { x: number; y: number },
    seed = 4,
  ) {
    const random = randomNumbers(seed);
    const between = (low: number, high: number) => low + random() * (high - low);
    this.#drifts = urchins.map(() => {
      const at = { x: between(WATER.left, WATER.right), y: between(WATER.top, WATER.bottom) };
      return { ...at, vx: between(-40, 40), vy: between(-40, 40), since: 0 };
    });
    // The claw has a life of its own, over whatever the legs do; and so has a flash.
    crab.layer('arm', { mask: ['claw', 'crab.rotation'] });
    crab.layer('flash');
    this.act = startRoutine(crab, 'crab');
    crab.on('rule', ({ name, layer }) => {
      if (layer !== 'base') return;
      this.act.set({ standing: name === 'idle' || name === 'scuttle', hidden: name === 'hide' || name === 'hidden' });
    });
    this.world = new HitWorld({
      pairs: [
        ['hits', 'hurt'],
        ['stings', 'soft'],
      ],
      onHit: (hit) => (hit.by.owner === 'crab' ? this.#hit(hit) : this.act.signal('hurt')),
    });
    this.#soft = { shapes: { soft: { shape: SOFT, tag: 'soft' } }, position: [home.x, home.y] };
    this.world.add('crab', crab, () => ({ position: [home.x, home.y], scale: HOME_SCALE }));
    this.world.add('crab, soft', this.#soft);
    urchins.forEach((urchin, i) => {
      urchin.fallback('drift', { vary: { seed: i, offset: 1 } });
      urchin.place({ position: this.#at(i, 0) });
      this.world.add(`urchin ${i}`, urchin);
    });
    // A claw that hits is held up for some frames, from the moment of the hit on.
    crab.on('end', ({ clip }) => {
      const { playback } = crab.layer('arm');
      if (clip === 'stop' && playback) playback.rate = 1;
    });
  }

  /**
   * One frame of `dt` seconds.
   *
   * @param way where the crab wants to go, −1 … 1 each
   * @param pace how fast: 1 is as fast as it can
   */
  tick(dt: number, [x, y]: readonly [x: number, y: number], pace = 1): void {
    const { act, home, world } = this;
    const length = Math.sqrt(x * x + y * y); // the same bits in every engine, which Math.hypot does not guarantee
    const speed = length > 0 && act.get('standing') ? SPEED * pace : 0;
    act.set({ speed, direction: [x, y] });
    if (speed > 0) {
      home.x = Math.min(WATER.right, Math.max(WATER.left, home.x + (x / length) * speed * dt));
      home.y = Math.min(WATER.bottom, Math.max(WATER.top, home.y + (y / length) * speed * dt));
    }
    this.#soft.position = [home.x, home.y];
    this.urchins.forEach((urchin, i) => urchin.place({ position: this.#at(i, world.time + dt) }));
    world.tick(dt);
  }

  #at(i: number, time: number): [x: number, y: number] {
    const { x, y, vx, vy, since } = this.#drifts[i]!;
    const gone = time - since;
    return [fold(x + vx * gone, WATER.left, WATER.right), fold(y + vy * gone, WATER.top, WATER.bottom)];
  }

  #hit(hit: Hit): void {
    const { crab } = this;
    this.hits.push(hit);
    const arm = crab.layer('arm').playback;
    if (arm) arm.rate = 0.05;
    crab.play('stop', { layer: 'stop' });
    const place = Number(hit.to.owner.slice('urchin '.length));
    this.urchins[place]!.play('struck');
    // It flies off the way it was hit.
    const { push } = hit.data as { readonly push: number };
    const [x, y] = this.#at(place, hit.time);
    const drift = { x, y, vx: hit.normal[0] * push, vy: hit.normal[1] * push, since: hit.time };
    Object.assign(this.#drifts[place]!, drift);
    this.onHit(hit);
  }
}

/** A number that goes back and forth between two others. */
function fold(n: number, low: number, high: number): number {
  const span = high - low;
  const over = (((n - low) % (2 * span)) + 2 * span) % (2 * span);
  return low + (over > span ? 2 * span - over : over);
}

import type { Player } from 'unspool';
import { parseReel, randomNumbers, type NamesOf } from 'unspool';
import { HitWorld, type Hit } from 'unspool/hit';
import crabDocument from '../reels/crab.reel.json' with { type: 'json' };
import urchinDocument from '../reels/urchin.reel.json' with { type: 'json' };

export const crabReel = parseReel(crabDocument, { source: 'crab.reel.json' });
export const urchinReel = parseReel(urchinDocument, { source: 'urchin.reel.json' });

export type Crab = Player<NamesOf<typeof crabDocument>>;
export type Urchin = Player<NamesOf<typeof urchinDocument>>;

export const URCHINS = 9;
/** Where the crab begins, and how large it is. */
export const HOME = { x: 300, y: 340 };
export const HOME_SCALE = 1.5;
const SPEED = 150; // px a second
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
  /** All hits so far. */
  readonly hits: Hit[] = [];
  /** Hears of each. */
  onHit: (hit: Hit) => void = () => {};
  readonly #drifts: readonly Drift[];

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
    this.world = new HitWorld({ onHit: (hit) => this.#hit(hit) });
    this.world.add('crab', crab, () => ({ position: [home.x, home.y], scale: HOME_SCALE }));
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

  /** It attacks while it scuttles: the arm goes over the legs. */
  snap(): void {
    const { playback } = this.crab.layer('arm');
    if (!playback?.active) this.crab.play('snap', { layer: 'arm', fade: '3f', after: 'rest' });
  }

  /**
   * One frame of `dt` seconds.
   *
   * @param way where the crab wants to go, −1 … 1 each; `undefined` while it cannot walk
   */
  tick(dt: number, way: readonly [x: number, y: number] | undefined): void {
    const { crab, home } = this;
    const [x, y] = way ?? [0, 0];
    if (x !== 0 || y !== 0) {
      crab.face('scuttle', [x, y], { fade: '3f' });
      const length = Math.sqrt(x * x + y * y); // the same bits in every engine, which Math.hypot does not guarantee
      home.x = Math.min(WATER.right, Math.max(WATER.left, home.x + (x / length) * SPEED * dt));
      home.y = Math.min(WATER.bottom, Math.max(WATER.top, home.y + (y / length) * SPEED * dt));
    } else if (way && crab.playback?.clip.name.startsWith('scuttle')) crab.stop();
    this.urchins.forEach((urchin, i) => urchin.place({ position: this.#at(i, this.world.time + dt) }));
    this.world.tick(dt);
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

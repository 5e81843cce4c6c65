/**
 * Baseline (b): a good ordinary evaluator. Objects with fixed members, a cursor for each track of each instance, a
 * result by name that is used again, `cubic-bezier` by Newton's steps that stop when they are near enough.
 */
import { bezierOf } from './by-hand.mjs';

class Key {
  constructor(key, next) {
    this.at = key.at;
    this.value = key.value;
    this.to = next ? next.value : key.value;
    this.span = next ? next.at - key.at : 1;
    this.kind = !next || key.ease === 'hold' ? 0 : key.ease === 'linear' ? 1 : key.ease === 'curve' ? 2 : 3;
    this.m0 = this.kind === 2 ? 3 * key.out[1] : 0;
    this.m1 = this.kind === 2 ? -3 * next.in[1] : 0;
    const [x1, y1, x2, y2] = this.kind === 3 ? bezierOf(key.ease) : [0, 0, 1, 1];
    this.ax = 1 - 3 * x2 + 3 * x1;
    this.bx = 3 * x2 - 6 * x1;
    this.cx = 3 * x1;
    this.ay = 1 - 3 * y2 + 3 * y1;
    this.by = 3 * y2 - 6 * y1;
    this.cy = 3 * y1;
  }

  valueAt(time) {
    if (this.kind === 0) return this.value;
    const x = (time - this.at) / this.span;
    if (this.kind === 1) return this.value + (this.to - this.value) * x;
    if (this.kind === 2) {
      const x2 = x * x;
      const x3 = x2 * x;
      return (
        (2 * x3 - 3 * x2 + 1) * this.value +
        (x3 - 2 * x2 + x) * this.m0 +
        (3 * x2 - 2 * x3) * this.to +
        (x3 - x2) * this.m1
      );
    }
    let t = x;
    for (let i = 0; i < 8; i++) {
      const error = ((this.ax * t + this.bx) * t + this.cx) * t - x;
      if (error < 1e-7 && error > -1e-7) break;
      const slope = (3 * this.ax * t + 2 * this.bx) * t + this.cx;
      if (slope < 1e-9) break;
      t -= error / slope;
    }
    return this.value + (this.to - this.value) * (((this.ay * t + this.by) * t + this.cy) * t);
  }
}

export class OrdinaryClip {
  constructor({ tracks, duration }) {
    this.duration = duration;
    this.names = Object.keys(tracks);
    this.tracks = Object.values(tracks).map((keys) => keys.map((key, i) => new Key(key, keys[i + 1])));
  }
}

/** One that plays: a time, and a cursor and a value for each track. */
export class OrdinaryInstance {
  constructor(clip, time, rate) {
    this.clip = clip;
    this.time = time;
    this.rate = rate;
    this.cursors = clip.tracks.map(() => 0);
    this.values = Object.fromEntries(clip.names.map((name) => [name, 0.5]));
  }

  tick(dt) {
    const { duration } = this.clip;
    this.time += dt * this.rate;
    if (this.time >= duration) this.time %= duration;
    this.sample();
  }

  sample() {
    const { tracks, names } = this.clip;
    const { time, cursors, values } = this;
    for (let i = 0; i < tracks.length; i++) {
      const keys = tracks[i];
      let at = cursors[i];
      if (keys[at].at > time) at = 0;
      while (at + 1 < keys.length && keys[at + 1].at <= time) at++;
      cursors[i] = at;
      values[names[i]] = keys[at].valueAt(time);
    }
    return values;
  }
}

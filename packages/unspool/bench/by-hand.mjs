/**
 * Baseline (a): what one writes in an afternoon. A linear scan over key objects, an easing closure per key, a new
 * object per pose. `cubic-bezier` by eight steps of Newton's method, as usual.
 */

const KEYWORDS = {
  ease: [0.25, 0.1, 0.25, 1],
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
};

export function bezierOf(text) {
  return KEYWORDS[text] ?? text.match(/-?[\d.]+/g).map(Number);
}

function bezierEasing([x1, y1, x2, y2]) {
  const at = (a, b, t) => ((1 - 3 * b + 3 * a) * t + (3 * b - 6 * a)) * t * t + 3 * a * t;
  const slope = (a, b, t) => 3 * (1 - 3 * b + 3 * a) * t * t + 2 * (3 * b - 6 * a) * t + 3 * a;
  return (x) => {
    let t = x;
    for (let i = 0; i < 8; i++) {
      const d = slope(x1, x2, t);
      if (d === 0) break;
      t -= (at(x1, x2, t) - x) / d;
    }
    return at(y1, y2, t);
  };
}

/** How far a segment gets: a function of its share and both keys. */
function wayOf(key, next) {
  if (!next || key.ease === 'hold') return () => key.value;
  if (key.ease === 'linear') return (x) => key.value + (next.value - key.value) * x;
  if (key.ease === 'curve') {
    const [m0, m1] = [3 * key.out[1], -3 * next.in[1]];
    return (x) => {
      const [x2, x3] = [x * x, x * x * x];
      return (
        (2 * x3 - 3 * x2 + 1) * key.value + (x3 - 2 * x2 + x) * m0 + (3 * x2 - 2 * x3) * next.value + (x3 - x2) * m1
      );
    };
  }
  const ease = bezierEasing(bezierOf(key.ease));
  return (x) => key.value + (next.value - key.value) * ease(x);
}

/** A function from time to pose. */
export function byHand({ tracks, duration }) {
  const list = Object.entries(tracks).map(([name, keys]) => ({
    name,
    keys: keys.map((key, i) => ({ at: key.at, way: wayOf(key, keys[i + 1]) })),
  }));
  return (time) => {
    const local = ((time % duration) + duration) % duration;
    const pose = {};
    for (const { name, keys } of list) {
      const next = keys.findIndex((key) => key.at > local);
      const i = next < 0 ? keys.length - 1 : Math.max(0, next - 1);
      const key = keys[i];
      const after = keys[i + 1];
      pose[name] = key.way(after ? (local - key.at) / (after.at - key.at) : 0);
    }
    return pose;
  };
}

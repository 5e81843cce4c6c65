import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { parseReel, type Clip, type Reel } from 'unspool';
import { fromSvgPath, fromVtt, fromWebAnimations, toCss, toSvgPath, toVtt, toWebAnimations } from '../src/index.js';
import { readColor } from '../src/css/colors.js';
import { cssReel } from './random-css.js';

/** The reels of the example game, taken by the bundler. */
const FILES: Record<string, unknown> = import.meta.glob('../../../examples/tidepool/reels/*.reel.json', {
  eager: true,
  import: 'default',
});
const DEMO: [string, Reel][] = Object.entries(FILES).map(([path, document]) => [path.split('/').at(-1)!, parseReel<unknown>(document as object)]); // prettier-ignore

/** The same cases each time, as in the other tests. */
const RUNS = { numRuns: 200, seed: 20260914 };

afterEach(() => document.body.replaceChildren());

/** The numbers that a page shows of a property, in the order of a reel. */
function shown(element: Element, property: string): number[] | undefined {
  const style = getComputedStyle(element);
  const numbers = (text: string) => (text.match(/-?[\d.]+(e-?\d+)?/g) ?? []).map(Number);
  switch (property) {
    case 'position':
      return style.translate === 'none' ? [0, 0] : numbers(style.translate);
    case 'rotation':
      return numbers(style.rotate === 'none' ? '0' : style.rotate);
    case 'scale': {
      const [x = 1, y = x, z = 1] = style.scale === 'none' ? [] : numbers(style.scale);
      return [x, y, z];
    }
    case 'opacity':
      return numbers(style.opacity);
    case 'tint': {
      return [...readColor(style.color)!];
    }
    case 'glow':
    case 'weights.bulge':
      return numbers(style.getPropertyValue(`--${property.replace('.', '-')}`));
    default:
      return undefined;
  }
}

/** Compares what a page shows at a time of each animation with the clip; jumps are not looked at closely. */
function compare(clip: Clip, elements: ReadonlyMap<string, Element>, animations: readonly Animation[]): void {
  const pose = clip.createPose();
  const slots = clip.layout.slots.filter(({ role, kind }) => elements.has(role) && kind !== 'quat');
  const jumps = clip.tracks.flatMap(({ keys }) => keys.flatMap(({ at, easing }, i) => {
      const steps = easing.kind === 'steps' ? easing.n : 1;
      return Array.from({ length: steps }, (_, k) => at + (((keys[i + 1]?.at ?? at) - at) * k) / steps);
    })); // prettier-ignore
  const count = clip.repeat.mode === 'ping-pong' ? 2 : 1;
  for (let i = 0; i < 50; i++) {
    const share = ((i + 0.37) / 50) * count;
    // Backwards, a ping-pong that never ends begins at the end.
    const inside = clip.rate < 0 ? Math.abs(1 - share) : share > 1 ? 2 - share : share;
    if (jumps.some((at) => Math.abs(at - inside * clip.duration) < 1e-4)) continue;
    for (const animation of animations) {
      const { duration } = animation.effect!.getComputedTiming();
      animation.currentTime = share * (duration as number);
    }
    clip.sampleInside(inside * clip.duration, pose);
    for (const { name, role, property, kind, offset, width } of slots) {
      const values = shown(elements.get(role)!, property);
      if (!values) continue;
      for (let k = 0; k < width; k++) {
        const real = pose.values[offset + k]!;
        // Browsers keep colors in 255ths and opacity inside 0 to 1; numbers of this size are of 32 bits.
        const wanted = property === 'opacity' ? Math.min(1, Math.max(0, real)) : real;
        const within =
          kind === 'color' ? 0.006 : 1.2e-3 + 1.3e-4 * range(clip, offset + k) + slope(clip, inside, offset + k) * 3e-6;
        expect(Math.abs((values[k] ?? 0) - wanted), `${name} ${k} at ${inside}`).toBeLessThan(within);
      }
    }
  }
}

/** How far a number goes: easings are lines within a ten thousandth of the way. */
function range(clip: Clip, index: number): number {
  const pose = clip.createPose();
  const values = Array.from({ length: 200 }, (_, i) => clip.sampleInside((clip.duration * i) / 199, pose).values[index]!); // prettier-ignore
  return Math.max(...values) - Math.min(...values);
}

/** How fast a number changes: the solver of browsers is exact to a part in ten million of the time. */
function slope(clip: Clip, share: number, index: number): number {
  const at = (time: number) => clip.sampleInside(time, clip.createPose()).values[index]!;
  const time = share * clip.duration;
  return Math.abs(at(Math.min(clip.duration, time + 1e-5)) - at(Math.max(0, time - 1e-5))) / 2e-5;
}

function stage(reel: Reel, clip: string): Map<string, Element> {
  const box = document.createElement('div');
  box.className = clip;
  document.body.append(box);
  return new Map(
    reel.roles.map((role) => {
      const element = document.createElement('div');
      element.className = role;
      box.append(element);
      return [role, element];
    }),
  );
}

function playCss(reel: Reel, name: string): void {
  const { result } = toCss(reel, { clips: [name] });
  const sheet = document.createElement('style');
  sheet.textContent = result;
  document.body.append(sheet);
  const elements = stage(reel, name);
  const animations = document.getAnimations();
  for (const animation of animations) animation.pause();
  compare(reel.clip(name), elements, animations);
}

describe('CSS, as Chromium shows it', () => {
  test.each(DEMO)('%s', (_, reel) => {
    for (const [name, clip] of Object.entries(reel.clips)) {
      // Offsets are counted from rest values here, but from the element in the game: both are the same at rest.
      const isPlain = clip.tracks.every(({ space }) => space === 'absolute');
      if (isPlain) playCss(reel, name);
      document.body.replaceChildren();
    }
  });

  test('200 random clips', { timeout: 600_000 }, () => {
    fc.assert(
      fc.property(cssReel, (written) => {
        document.body.replaceChildren();
        playCss(parseReel<unknown>(written), 'run');
      }),
      RUNS,
    );
  });
});

describe('Web Animations', () => {
  test('200 random clips play in Chromium, and its keyframes are the same clip', { timeout: 600_000 }, () => {
    fc.assert(
      fc.property(cssReel, (written) => {
        document.body.replaceChildren();
        const reel = parseReel<unknown>(written);
        const { result } = toWebAnimations(reel);
        const json = JSON.parse(JSON.stringify(result)) as typeof result;
        const elements = stage(reel, 'none');
        const { keyframes, timing } = json['run']!['crab']!;
        registerGlow();
        const animation = elements.get('crab')!.animate(keyframes as unknown as Keyframe[], timing as unknown as KeyframeAnimationOptions); // prettier-ignore
        animation.pause();
        compare(reel.clip('run'), elements, [animation]);
        const back = (animation.effect as KeyframeEffect).getKeyframes();
        const again = fromWebAnimations({ run: { crab: { keyframes: back, timing } } }).result;
        const straight = fromWebAnimations(json).result;
        expectSame(parseReel<unknown>(again).clip('run'), parseReel<unknown>(straight).clip('run'));
      }),
      RUNS,
    );
  });
});

function registerGlow(): void {
  try {
    CSS.registerProperty({ name: '--glow', syntax: '<number>', inherits: false, initialValue: '0' });
  } catch {
    // It is registered already.
  }
}

function expectSame(a: Clip, b: Clip): void {
  const [one, two] = [a.createPose(), b.createPose()];
  expect(a.layout.slots.map(({ name }) => name).sort()).toEqual(b.layout.slots.map(({ name }) => name).sort());
  for (let i = 0; i <= 100; i++) {
    const time = (a.duration * (i + 0.003)) / 101;
    a.sampleInside(time, one);
    b.sampleInside(time, two);
    for (const { name, offset, width } of a.layout.slots) {
      const slot = b.layout.slot(name);
      for (let k = 0; k < width; k++) {
        const [x, y] = [one.values[offset + k]!, two.values[slot.offset + k]!];
        expect(Math.abs(x - y), `${name} at ${time}`).toBeLessThan(1e-3 + 1e-5 * Math.abs(y));
      }
    }
  }
}

describe('WebVTT', () => {
  /** What Chromium reads from a file. */
  async function track(text: string): Promise<VTTCue[]> {
    const video = document.createElement('video');
    const element = document.createElement('track');
    element.kind = 'metadata';
    element.default = true;
    element.src = URL.createObjectURL(new Blob([text], { type: 'text/vtt' }));
    video.append(element);
    document.body.append(video);
    element.track.mode = 'hidden';
    await new Promise((resolve, reject) => {
      element.addEventListener('load', resolve);
      element.addEventListener('error', reject);
    });
    return [...element.track.cues!] as VTTCue[];
  }

  const cues = [
    { at: 0.25, name: 'shut', data: { sound: 'click', strength: 0.8, note: 'a --> b' } },
    { at: 0.5, until: 1.75, name: 'line', data: { text: 'Mind the <tide> & run\nto the rocks', voice: 'Old Crab' } },
    { at: 3661.001, until: 3662, name: 'late', data: [1, 'two'] },
    { at: 3700, name: 'bare' },
  ];

  test('Chromium reads what is written, with the same times and texts', async () => {
    const reel = parseReel<unknown>({ unspool: 1, clips: { talk: { duration: 4000, cues } } });
    const { result } = toVtt(reel);
    const read = await track(result);
    expect(read.map(({ id, startTime, endTime }) => [id, startTime, endTime])).toEqual([
      ['shut', 0.25, 0.251],
      ['line', 0.5, 1.75],
      ['late', 3661.001, 3662],
      ['bare', 3700, 3700.001],
    ]);
    expect(JSON.parse(read[0]!.text)).toEqual(cues[0]!.data);
    expect(read[1]!.getCueAsHTML().textContent).toBe('Mind the <tide> & run\nto the rocks');
    expect(JSON.parse(read[2]!.text)).toEqual([1, 'two']);
    expect(parseReel<unknown>(fromVtt(result).result).clip('talk').cues).toEqual(reel.clip('talk').cues);
  });
});

describe('SVG paths', () => {
  const paths = [
    'M0 0 C 0 100 100 100 100 0 S 200 -100 250 40',
    'M10 10 q 40 -30 80 0 t 80 10 l 30 40 h -50 v 20 z',
    'm 5 5 c 0 40 200 0 0 60 l 1e2 .5',
    // Its arcs are cubics of a quarter of the ellipse in the browser, which is off by a four thousandth of the radius.
    'M0 0 a 3 2 20 1 1 2 1 A 2 2 0 0 0 9 2',
  ];
  const measured = (d: string): SVGPathElement => {
    const path = document.createElementNS('http://www.w3.org/2000/svg', 'path');
    path.setAttribute('d', d);
    return path;
  };

  test.each(paths)('%s: at constant speed as the browser measures it', (d) => {
    const clip = parseReel<unknown>(fromSvgPath(d, { duration: 2, role: 'eel' }).result).clip('travel');
    const path = measured(d);
    const total = path.getTotalLength();
    const pose = clip.createPose();
    for (let i = 0; i <= 60; i++) {
      const point = path.getPointAtLength((total * i) / 60);
      const [x, y] = clip.sampleInside((2 * i) / 60, pose).get('eel.position') as [number, number];
      // The browser measures in steps and 32 bits: a part in ten thousand of the length.
      expect(Math.hypot(point.x - x, point.y - y), `at ${i / 60}`).toBeLessThan(1e-3 + 1e-4 * total);
      // What lies on the path is measured across it: there it is exact.
      expect(nearestTo(path, x, y, (total * i) / 60)).toBeLessThan(1e-3);
    }
  });

  /** The distance from a path, looked for near a place on it. */
  function nearestTo(path: SVGPathElement, x: number, y: number, near: number): number {
    const total = path.getTotalLength();
    const away = (length: number) => {
      const point = path.getPointAtLength(Math.min(total, Math.max(0, length)));
      return Math.hypot(point.x - x, point.y - y);
    };
    let [center, nearest, step] = [near, away(near), 5e-4 * total];
    for (let i = 0; i < 12; i++) {
      const middle = center;
      for (let k = -10; k <= 10; k++) {
        const distance = away(middle + k * step);
        if (distance < nearest) [center, nearest] = [middle + k * step, distance];
      }
      step /= 3;
    }
    return nearest;
  }

  test('the motion path of a clip, as the browser draws it', () => {
    const reel = DEMO.find(([file]) => file === 'pearl.reel.json')![1];
    const clip = reel.clip('roll');
    const path = measured(toSvgPath(reel, { clip: 'roll', role: 'pearl' }).result.d);
    const total = path.getTotalLength();
    const pose = clip.createPose();
    for (let i = 0; i <= 20; i++) {
      const [x, y] = clip.sampleInside((clip.duration * i) / 20, pose).get('pearl.position') as [number, number];
      const distances = Array.from({ length: 400 }, (_, k) => path.getPointAtLength((total * k) / 399)).map((point) => Math.hypot(point.x - x, point.y - y)); // prettier-ignore
      expect(Math.min(...distances)).toBeLessThan(total / 300);
    }
  });
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { easing, EASING_NAMES, formatReel, parseReel, type Reel } from 'unspool';
import { runs } from '../../../unspool/test/runs.js';
import { DEMO, farthest, inFloats, nearKeys, randomOpenReel } from '../../test/reels.js';
import { fromCss, fromWebAnimations, toCss, toWebAnimations } from '../index.js';

/** What both formats can say: without offsets, texts, frames and hit shapes. */
const CAN = /\.(position|rotation|scale|opacity|tint|glow|visible)$/;

/** What is read back is compared with: properties that are there, times that are no jumps, colors to a 255th. */
function compare(reel: Reel, back: Reel, least: number): void {
  for (const [name, clip] of Object.entries(reel.clips)) {
    if (!Object.hasOwn(back.clips, name)) {
      expect(clip.layout.slots.filter((slot) => CAN.test(slot.name))).toEqual([]);
      continue;
    }
    const copy = back.clip(name);
    const kept = { ...clip.layout, slots: clip.layout.slots.filter((slot) => copy.layout.find(slot.name)) };
    const near = nearKeys(clip);
    const view = { duration: clip.duration, layout: kept, createPose: () => clip.createPose(), sampleInside: clip.sampleInside.bind(clip) }; // prettier-ignore
    const size =
      1 + Math.max(0, ...clip.tracks.flatMap(({ keys }) => keys.flatMap(({ value }) => value.map(Math.abs))));
    const steep = inFloats(clip);
    const within = (property: string) => (property.endsWith('tint') ? 0.02 : 1.1e-3 + least * size + steep);
    expect(farthest(view as unknown as typeof clip, copy, within, near), name).toBeLessThan(1);
    expect(copy.duration).toBeCloseTo(clip.duration, 9);
  }
}

describe('CSS and Web Animations, out and in', () => {
  test.each([...DEMO].filter(([file]) => file !== 'crab.reel.json'))('%s', (_, reel) => {
    for (const document of [
      fromCss(toCss(reel).result).result,
      fromWebAnimations(toWebAnimations(reel).result).result,
    ]) {
      const back = parseReel<unknown>(formatReel(document));
      compare(reel, back, 2e-4);
      for (const [name, clip] of Object.entries(back.clips)) {
        const own = reel.clip(name);
        expect([clip.repeat, clip.after]).toEqual([own.repeat, own.after]);
      }
    }
  });

  test('random reels', { timeout: 300_000 }, () => {
    fc.assert(
      fc.property(randomOpenReel, (document) => {
        const reel = parseReel<unknown>(document);
        const css = toCss(reel).result;
        if (css.includes('@keyframes')) compare(reel, parseReel<unknown>(fromCss(css).result), 3e-4);
        const json = JSON.parse(JSON.stringify(toWebAnimations(reel).result)) as never;
        compare(reel, parseReel<unknown>(fromWebAnimations(json).result), 3e-4);
      }),
      runs(80),
    );
  });

  test('easings of CSS stay by name; what one cubic can say is one; the others are lines', () => {
    const keys = ['ease-in', 'cubic-bezier(0.1, 2, 0.3, -1)', 'steps(3, jump-both)', 'hold', 'linear(0 0%, 0.3 20%, 1 100%)', 'quad-out', 'sine-in', 'linear'].map((ease, i) => ({ at: i, value: i % 2, ease })); // prettier-ignore
    const reel = parseReel<unknown>({ unspool: 1, clips: { blink: { tracks: { 'eye.opacity': keys } } } });
    const { blink } = toWebAnimations(reel).result;
    const easings = blink!['eye']!.keyframes.map(({ easing }) => easing);
    expect(easings.slice(0, 6)).toEqual([
      'ease-in',
      'cubic-bezier(0.1, 2, 0.3, -1)',
      'steps(3, jump-both)',
      'steps(1)',
      'linear(0 0%, 0.3 20%, 1 100%)',
      'cubic-bezier(0.333333333333333, 0.666666666666667, 0.666666666666667, 1)',
    ]);
    expect(easings[6]).toMatch(/^linear\(0, 0\.\d+ \d/);
  });

  test('every named easing is within 0.0001 of the way, also where it begins or ends straight up', () => {
    const names = [...EASING_NAMES.filter((name) => !['smooth', 'curve'].includes(name)), 'spring(0.2)', 'spring(0.8)'];
    const keys = [...names.map((ease, i) => ({ at: i, value: i % 2, ease })), { at: names.length, value: 0 }];
    const reel = parseReel<unknown>({ unspool: 1, clips: { blink: { tracks: { 'eye.opacity': keys } } } });
    const written = toWebAnimations(reel).result['blink']!['eye']!.keyframes.map((frame) => frame.easing);
    const near = [0, 0.5, 1].flatMap((x) => [...Array(22).keys()].flatMap((k) => [x - 2 ** -k, x + 2 ** -k]));
    const even = Array.from({ length: 999 }, (_, k) => (k + 1) / 1000);
    const places = [...even, ...near.filter((x) => x > 0 && x < 1)];
    for (const [i, name] of names.entries()) {
      const [ours, theirs] = [easing(name), easing(written[i]!)];
      const far = Math.max(...places.map((x) => Math.abs(ours(x) - theirs(x))));
      expect(far, name).toBeLessThan(1e-4);
    }
  });

  test('chains, facings and routines are named as dropped, where all clips are written', () => {
    const keys = [{ at: 0, value: 0 }, { at: 1, value: 1 }]; // prettier-ignore
    const clip = { tracks: { 'eye.opacity': keys } };
    const reel = parseReel<unknown>({
      unspool: 1,
      clips: { blink: clip, look: clip },
      chains: { both: ['blink', 'look'] },
      facings: { turn: { right: 'look' } },
      routines: { main: { rules: [{ name: 'idle', play: 'blink' }] } },
    });
    const said = (report: { readonly dropped: readonly { readonly what: string }[] }) => report.dropped.map(({ what }) => what); // prettier-ignore
    const all = ['chains both', 'facings turn', 'routines main'];
    expect(said(toCss(reel).report)).toEqual(all.map((one) => `${one}: CSS has none`));
    expect(said(toWebAnimations(reel).report)).toEqual(all.map((one) => `${one}: Web Animations has none`));
    expect(said(toCss(reel, { clips: ['blink'] }).report)).toEqual([]);
  });

  test('names that begin with a digit are identifiers of CSS', () => {
    const keys = [{ at: 0, value: 0 }, { at: 1, value: 1 }]; // prettier-ignore
    const reel = parseReel<unknown>({
      unspool: 1,
      clips: { '3d-turn': { tracks: { '2nd.opacity': keys, '-1.opacity': keys } } },
    });
    const { result } = toCss(reel);
    expect(result).toContain('.\\000033d-turn .\\000032nd {');
    const back = fromCss(result).result.clips['3d-turn']!;
    expect(Object.keys(back.tracks!)).toEqual(['2nd.opacity', '-1.opacity']);
  });

  test('channels that are sampled together are within what the report says, however long and steep their ways', () => {
    const names = [...EASING_NAMES.filter((name) => !['smooth', 'curve'].includes(name)), 'spring(0.2)'];
    for (const name of names) {
      const x = [{ at: 0, value: 0, ease: name }, { at: 2, value: 800 }]; // prettier-ignore
      const y = [{ at: 0, value: 0, ease: 'sine-in-out' }, { at: 2, value: -500 }]; // prettier-ignore
      const reel = parseReel<unknown>({ unspool: 1, clips: { drift: { tracks: { 'eel.position.x': x, 'eel.position.y': y } } } }); // prettier-ignore
      const { result, report } = toWebAnimations(reel, { tolerance: 0.01 });
      const said = Math.max(0, ...report.approximated.map(({ error }) => error ?? 0));
      const [one, other] = [reel, parseReel<unknown>(fromWebAnimations(result).result)].map((of) => of.clip('drift'));
      const near = [0, 1, 2].flatMap((t) => [...Array(20).keys()].flatMap((k) => [t - 2 ** -k, t + 2 ** -k]));
      const even = Array.from({ length: 1999 }, (_, k) => (k + 1) / 1000);
      const far = [...even, ...near.filter((t) => t > 0 && t < 2)].map((t) => {
        const [mine, back] = [one!, other!].map((clip) => clip.sample(t).get('eel.position') as readonly number[]);
        return Math.max(...mine!.map((n, c) => Math.abs(n - back![c]!)));
      });
      expect(Math.max(...far), name).toBeLessThanOrEqual(said + 1e-9);
      expect(said, name).toBeLessThanOrEqual(0.1);
    }
  });

  test('channels with times of their own are one list: curves are cut exactly, or sampled together', () => {
    const x = [{ at: 0, value: 0, ease: 'ease-in' }, { at: 1, value: 10, ease: 'hold' }, { at: 2, value: 30 }]; // prettier-ignore
    const y = [{ at: 0.5, value: 5, ease: 'hold' }, { at: 1.5, value: 7, ease: 'ease-out' }, { at: 2, value: 8 }]; // prettier-ignore
    const reel = parseReel<unknown>({ unspool: 1, clips: { drift: { tracks: { 'eel.position.x': x, 'eel.position.y': y } } } }); // prettier-ignore
    const { result, report } = toWebAnimations(reel);
    const { keyframes } = result['drift']!['eel']!;
    expect(keyframes.map(({ offset }) => offset)).toEqual([0, 0.25, 0.5, 0.75, 1]);
    expect(keyframes[0]!.easing).toMatch(/^cubic-bezier/);
    expect(report.approximated).toEqual([]);
    compare(reel, parseReel<unknown>(fromWebAnimations(result).result), 1e-9);
  });
});

describe('CSS in', () => {
  test('a style sheet of a page: shorthands, longhands, transforms, rest values, defaults', () => {
    const { result, report } = fromCss(`
      @media print { .x { color: red } }
      .ball { opacity: 0.5; transform-origin: 4px 8px }
      .ball { animation: bounce 600ms 2 alternate, glow 600ms 2 alternate; }
      #door .hinge:hover { animation-name: swing; animation-duration: 2s; animation-iteration-count: infinite; animation-timing-function: linear; animation-delay: 1s }
      @keyframes bounce { from { transform: translateY(0) } 50% { transform: translate(10px, -1in) rotate(0.5turn) scale(2); animation-timing-function: steps(1) } to { transform: translateY(0) } }
      @keyframes glow { 50% { opacity: 80%; color: rebeccapurple; --heat: 3; width: 4em } }
      @keyframes swing { 0%, 100% { rotate: 0deg } 50% { rotate: 90deg } }
      @keyframes unused { to { scale: 2 } }
    `);
    expect(Object.keys(result.clips)).toEqual(['bounce', 'glow', 'door', 'unused'].filter((name) => Object.hasOwn(result.clips, name))); // prettier-ignore
    const clip = parseReel<unknown>(result).clip('bounce');
    expect(clip.repeat).toMatchObject({ mode: 'ping-pong', count: 2 });
    const pose = clip.sampleInside(0.3, clip.createPose());
    expect([pose.get('ball.position'), pose.get('ball.rotation'), pose.get('ball.scale')]).toEqual([[10, -96], 180, [2, 2]]); // prettier-ignore
    expect(result.roles!['ball']!.rest).toMatchObject({ opacity: 0.5, pivot: [4, 8] });
    expect(result.clips['door']).toMatchObject({ duration: 2, loop: 'loop', after: 'rest' });
    const said = report.dropped.map(({ what }) => what);
    expect(said).toContain('width: 4em');
    expect(said).toContain('@media');
    expect(said).toContain('a delay of 1 s: start the playback later');
    expect(report.approximated.map(({ at }) => at)).toContain('@keyframes unused');
  });

  test.each([
    ['', 'the style sheet has no @keyframes'],
    ['a { b: c }', 'the style sheet has no @keyframes'],
    ['{'.repeat(300), 'nested deeper than 200'],
    [`@keyframes a { to { opacity: ${'('.repeat(300)} } }`, 'nested deeper than 200'],
    ['x'.repeat(20_000_000), 'the limit is 16777216'],
    ['a{}'.repeat(60_000), 'more than 50000 blocks'],
  ])('refuses %.30j', (text, message) => {
    expect(() => fromCss(text)).toThrow(message);
  });

  test('16 MB of rules, and what looks like them, take a few seconds and one answer', () => {
    const started = performance.now();
    const many = '@keyframes a { to { opacity: 0 } } '.repeat(20_000);
    fromCss(many);
    fromCss('@keyframes '.repeat(100_000));
    fromCss(`@keyframes a { to { translate: ${'1px '.repeat(200_000)}; } }`);
    expect(performance.now() - started).toBeLessThan(20_000);
  });
});

test.each([
  [5, 'the data is not an object'],
  [{ a: 5 }, '/a: not an object'],
  [{ a: { b: { keyframes: 5, timing: 100 } } }, '/a/b/keyframes: not a list of keyframes'],
  [{ a: { b: { keyframes: [], timing: { duration: 0 } } } }, '/a/b/timing: the duration is 0'],
  [{ a: { b: { keyframes: [{ offset: 2 }], timing: 5 } } }, '/a/b/keyframes/0/offset: 2 is not from 0 to 1'],
])('Web Animations: refuses %j', (input, message) => {
  expect(() => fromWebAnimations(input as never)).toThrow(message);
});

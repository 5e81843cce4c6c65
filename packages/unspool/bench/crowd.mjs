/** The frame of a crowd: 10,000 instances of 16 clips, 12 channels of 24 keys each. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Crowd, parseReel } from '../dist/index.js';
import { fitClip } from '../dist/clip/fitted/fit.js';
import { byHand } from './by-hand.mjs';
import { interleave, timesTable } from './measure.mjs';
import { OrdinaryClip, OrdinaryInstance } from './ordinary.mjs';
import { CHANNELS, makeInstances, makeReel } from './work.mjs';

const DT = 1 / 60;
const FRAMES = 4;

/** All contenders at one frame of the same work, and what checks that they come to the same. */
export function crowdContenders(count) {
  const document = makeReel();
  const reel = parseReel(document);
  const instances = makeInstances(count);
  const { duration } = document.clips.clip0;

  const crowd = new Crowd(reel);
  crowd.prepare(Object.keys(document.clips));
  const ids = instances.map(({ clip, phase, rate }) => crowd.add(clip, { phase, rate }));

  const functions = Object.fromEntries(Object.entries(document.clips).map(([name, clip]) => [name, byHand(clip)]));
  const hand = instances.map(({ clip, phase, rate }) => ({ clip, time: phase * duration, rate, pose: {} }));

  const ordinaryClips = Object.fromEntries(
    Object.entries(document.clips).map(([name, clip]) => [name, new OrdinaryClip(clip)]),
  );
  const ordinary = instances.map(
    ({ clip, phase, rate }) => new OrdinaryInstance(ordinaryClips[clip], phase * duration, rate),
  );

  const contenders = {
    unspool: () => crowd.tick(DT),
    'ordinary objects (b)': () => {
      for (const one of ordinary) one.tick(DT);
    },
    'naive (a)': () => {
      for (const one of hand) {
        one.time += DT * one.rate;
        one.pose = functions[one.clip](one.time);
      }
    },
  };
  const check = () => {
    for (let i = 0; i < count; i += 97) {
      const name = ordinary[i].clip.names[i % CHANNELS];
      const [ours, theirs, plain] = [
        crowd.values[crowd.offsetOf(ids[i], name)],
        ordinary[i].values[name],
        hand[i].pose[name],
      ];
      // Their own Newton's steps and our fit leave a thousandth of 100 at the very most.
      if (Math.abs(ours - plain) > 0.1 || Math.abs(theirs - plain) > 0.1)
        throw new Error(`instance ${i}, ${name}: ${ours}, ${theirs}, ${plain}`);
    }
  };
  return { crowd, reel, instances, contenders, check };
}

/** The same frame in C, where there is a compiler; `undefined` where there is none. */
function kernel({ reel, instances }) {
  const folder = mkdtempSync(join(tmpdir(), 'unspool-kernel-'));
  const program = join(folder, 'kernel');
  const source = fileURLToPath(new URL('kernel.c', import.meta.url));
  const built = ['cc', 'gcc', 'clang'].some(
    (compiler) => spawnSync(compiler, ['-O2', '-o', program, source]).status === 0,
  );
  if (!built) return undefined;
  const data = join(folder, 'work.bin');
  writeFileSync(data, kernelData(reel, instances));
  const run = () => {
    const [each] = spawnSync(program, [data, '12'], { encoding: 'utf8' }).stdout.split(' ').map(Number);
    return each;
  };
  return { run, data, program, remove: () => rmSync(folder, { recursive: true }) };
}

/** The pieces of all channels of a clip, as a long clip has them. */
function piecesOf({ curves, duration }, { values, base }) {
  const fitting = fitClip(curves, duration, 0, values, base);
  for (;;) {
    const { done, value } = fitting.next();
    if (done) return value;
  }
}

function kernelData(reel, instances) {
  const parts = [];
  const add = (...lists) => {
    for (const list of lists) parts.push(Buffer.from(list.buffer, list.byteOffset, list.byteLength));
  };
  const names = Object.keys(reel.clips);
  add(Int32Array.of(names.length));
  for (const name of names) {
    const clip = reel.clip(name);
    const { channels, pieces } = piecesOf(clip, clip.createPose());
    const own = instances.filter((one) => one.clip === name);
    add(Int32Array.of(channels, own.length, pieces.knots.length / 2, pieces.buckets.length));
    add(Float64Array.of(clip.duration), pieces.first, pieces.bucket, pieces.scales, pieces.knots);
    add(
      Float64Array.from(own, ({ phase }) => phase * clip.duration),
      Float64Array.from(own, ({ rate }) => rate),
    );
    add(Float32Array.from(pieces.slopes), pieces.buckets);
  }
  return Buffer.concat(parts);
}

export function crowdFrame({ count = 10_000, rounds = 25 } = {}) {
  const setup = crowdContenders(count);
  const { contenders, check } = setup;
  const c = kernel(setup);
  const repeated = Object.fromEntries(
    Object.entries(contenders).map(([name, frame]) => [
      name,
      () => {
        for (let i = 0; i < FRAMES; i++) frame();
      },
    ]),
  );
  const timings = interleave({ ...repeated, ...(c && { 'scalar C': c.run }) }, FRAMES * count * CHANNELS, { rounds });
  check();
  if (c) {
    const sum = Number(spawnSync(c.program, [c.data, '1'], { encoding: 'utf8' }).stdout.split(' ')[1]);
    const ours = new Crowd(setup.reel);
    for (const { clip, phase, rate } of setup.instances) ours.add(clip, { phase, rate });
    ours.tick(0); // lays out and begins
    ours.tick(DT);
    let own = 0;
    const { size } = setup.reel.clips.clip0.layout;
    const groups = Object.keys(setup.reel.clips).length;
    for (let id = 0; id < count; id++) {
      const at = ours.offsetOf(id, setup.reel.clips.clip0.layout.slots[0].name);
      for (let k = 0; k < size; k++) own += ours.values[at + k];
    }
    if (groups === 0 || Math.abs(own - sum) > 1e-6 * Math.abs(sum)) throw new Error(`C comes to ${sum}, not ${own}`);
    c.remove();
  }
  const message = c ? '' : '\n\nThe C kernel was left out: no C compiler was found (cc, gcc, clang).';
  return { timings, text: timesTable(timings, 'ns per channel') + message };
}

import { trustReel, type ClipDocument, type ReelDocument, type TrackDocument } from 'unspool';
import { capture, edit, type Sample } from 'unspool/edit';
import { pointer, type Notes } from './report.js';

/**
 * Keeps fewer keys in every clip: what is shown changes by at most the tolerance, in the units of each property.
 * Quaternions are sampled at their keys and between them, and fitted by rotations at constant speed (in degrees).
 */
export function reduced(document: ReelDocument, tolerance: number, notes: Notes): ReelDocument {
  let next = document;
  for (const name of Object.keys(document.clips)) {
    const before = countKeys(next.clips[name]!);
    next = withTurns(next, name, tolerance);
    const done = edit(next, { do: 'simplify-keys', clip: name, tolerance });
    if (done.ok) next = done.doc;
    const after = countKeys(next.clips[name]!);
    if (after < before) notes.approximated(pointer('clips', name), `${before} keys as ${after}`, tolerance);
  }
  return next;
}

const isList = (track: TrackDocument): track is Extract<TrackDocument, readonly unknown[]> => Array.isArray(track);
const keysOf = (track: TrackDocument) => (isList(track) ? track : track.keys);
const countKeys = ({ tracks = {} }: ClipDocument) =>
  Object.values(tracks).reduce((sum, track) => sum + keysOf(track).length, 0);

/** Samples of each segment of a rotation. */
const SAMPLES = 8;

function withTurns(document: ReelDocument, name: string, tolerance: number): ReelDocument {
  const clip = document.clips[name]!;
  const turns = Object.entries(clip.tracks ?? {}).filter(([, track]) => !isList(track) && track.kind === 'quat');
  if (turns.length === 0) return document;
  const compiled = trustReel(document).clip(name);
  const pose = compiled.createPose();
  const tracks = { ...clip.tracks };
  for (const [track] of turns) {
    const keys = compiled.tracks.find((one) => one.name === track)!.keys;
    if (keys.some(({ easing }) => easing.kind === 'hold') || keys.length < 3) continue;
    const times = keys.flatMap(({ at }, i) => {
      const next = keys[i + 1]?.at;
      return next === undefined ? [at] : Array.from({ length: SAMPLES }, (_, k) => at + ((next - at) * k) / SAMPLES);
    });
    const samples: Sample[] = times.map((time) => ({
      ...{ time },
      values: { [track]: [...(compiled.sampleInside(time, pose).get(track) as readonly number[])] },
    }));
    const { clip: captured } = capture(samples, { tolerance, fps: compiled.fps });
    const fewer = keysOf(captured.tracks![track]!);
    // Captured times are counted from the first sample.
    if (fewer.length < keys.length && times[0] === 0) tracks[track] = { kind: 'quat', keys: fewer };
  }
  return { ...document, clips: { ...document.clips, [name]: { ...clip, tracks } } };
}

import { isShown } from '../pose/blend.js';
import type { StageVoice } from '../pose/stage-voices.js';
import type { RemappedClip } from '../pose/animated-slots.js';

/** A playback with its share of its layer at a time, and the least and the most of it until another. */
export interface SharedVoice {
  readonly voice: StageVoice;
  readonly placed: RemappedClip;
  share: number;
  least: number;
  most: number;
}

/** The lowest first. */
export type SharedLayers = readonly { readonly shownWeight: number; readonly voices: readonly SharedVoice[] }[];

/** The time of a change is found to this, in seconds. */
export const INSTANT = 1e-12;

/** So many intervals are looked at for certain: what is left of them then is judged by its ends. */
const MOST_LOOKS = 4096;

const animates = ({ placed }: SharedVoice, property: string) => placed.slots.some(({ name }) => name === property);

/** The voice that a held property is taken from, by the shares at a time. */
export function heaviestOf(layers: SharedLayers, property: string): StageVoice | undefined {
  let best: StageVoice | undefined;
  for (const { shownWeight, voices } of layers) {
    let heaviest: SharedVoice | undefined;
    let all = 0;
    for (const voice of voices) {
      if (!animates(voice, property)) continue;
      all += voice.share;
      if (voice.share > (heaviest?.share ?? 0)) heaviest = voice;
    }
    if (heaviest && isShown([heaviest.share, all, shownWeight])) best = heaviest.voice;
  }
  return best;
}

/** Whether the voice that a held property is taken from is this one, whatever the shares are within their bounds. */
export function isSurely(layers: SharedLayers, property: string, expected: StageVoice | undefined): boolean {
  for (let i = layers.length - 1; i >= 0; i--) {
    const { shownWeight, voices } = layers[i]!;
    let [all, most, allMost] = [0, 0, 0];
    let heaviest: SharedVoice | undefined;
    for (const voice of voices) {
      if (!animates(voice, property)) continue;
      all += voice.least;
      allMost += voice.most;
      most = Math.max(most, voice.most);
      if (voice.least > (heaviest?.least ?? 0)) heaviest = voice;
    }
    if (!isShown([most, allMost, shownWeight])) continue;
    if (!heaviest || heaviest.voice !== expected || !isShown([heaviest.least, all, shownWeight])) return false;
    return voices.every((one) => one === heaviest || !animates(one, property) || one.most < heaviest.least);
  }
  return expected === undefined;
}

/** The last time for which all is certain; and the first at which the voice may be another, at most `ahead`. */
export interface Change {
  same: number;
  other: number;
}

/**
 * Finds when a held property is first taken from another voice than now. Halves the time until it is certain that
 * nothing changes within, or only an instant is left: so a voice that is the heaviest for a moment only is found, too.
 *
 * @param shares finds the shares of the layers between two times from now
 */
export function findOther(
  layers: SharedLayers,
  property: string,
  ahead: number,
  shares: (from: number, until: number) => void,
  out: Change,
): void {
  shares(0, 0);
  const now = heaviestOf(layers, property);
  const ends = [ahead];
  let from = 0;
  for (let looks = 0; ends.length > 0; looks++) {
    const until = ends.at(-1)!;
    const middle = (from + until) / 2;
    const isInstant = until - from <= INSTANT || !(middle > from && middle < until) || looks >= MOST_LOOKS;
    shares(from, until);
    if (!isSurely(layers, property, now)) {
      if (!isInstant) {
        ends.push(middle);
        continue;
      }
      shares(until, until);
      if (heaviestOf(layers, property) !== now) {
        [out.same, out.other] = [from, Math.min(ahead, until + INSTANT)];
        return;
      }
    }
    from = until;
    ends.pop();
  }
  out.same = out.other = ahead;
}

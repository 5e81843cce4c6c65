import { useEffect, useRef, useState } from 'react';
import type { RuleExplanation } from 'unspool';
import { setStatus, useStore } from '../model/store.js';
import { animationFrames } from '../panels/animation-frames.js';
import { TryRoutine, type Given } from './try-routine.js';

/** How often the reasons are shown anew, in milliseconds. */
const EVERY = 100;

export interface RunningRoutine {
  readonly given: Readonly<Record<string, Given>>;
  readonly reasons: readonly RuleExplanation[];
  readonly playing: string;
  readonly set: (input: string, value: Given) => void;
  readonly signal: (input: string) => void;
}

/** Runs a routine of the reel as it is, and draws it in each frame. After a change it begins anew, with the same inputs. */
export function useRoutine(name: string, canvas: React.RefObject<HTMLCanvasElement | null>): RunningRoutine {
  const doc = useStore((state) => state.doc);
  const reel = useStore((state) => state.reel);
  const running = useRef<TryRoutine>(undefined);
  const [given, setGiven] = useState<Readonly<Record<string, Given>>>({});
  const latest = useRef(given);
  useEffect(() => {
    latest.current = given;
  }, [given]);
  const [shown, setShown] = useState<{ readonly reasons: readonly RuleExplanation[]; readonly playing: string }>({
    reasons: [],
    playing: 'nothing',
  });
  useEffect(() => {
    if (!doc?.routines?.[name] || !reel) return;
    let made: TryRoutine;
    try {
      made = new TryRoutine(doc, reel, name, latest.current);
    } catch (error) {
      setStatus((error as Error).message, true);
      return;
    }
    running.current = made;
    let told = -Infinity;
    const stop = animationFrames((dt, now) => {
      made.tick(dt);
      const pen = canvas.current?.getContext('2d');
      if (pen) made.paint(pen);
      if (now - told < EVERY) return;
      told = now;
      setShown({ reasons: made.explain(), playing: made.playing });
    });
    return () => {
      running.current = undefined;
      stop();
    };
  }, [doc, reel, name, canvas]);
  return {
    given,
    ...shown,
    set: (input, value) => {
      setGiven({ ...given, [input]: value });
      running.current?.set(input, value);
    },
    signal: (input) => running.current?.signal(input),
  };
}

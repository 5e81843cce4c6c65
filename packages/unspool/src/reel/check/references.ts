import { KNOWN_PROPERTIES } from '../../value/property.js';
import type { ReelDocument } from '../document/document.js';
import { LIMITS } from '../document/limits.js';
import { checkRoutines } from './check-routines.js';
import { resolveLoop } from '../resolve/loop.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';
import { SIDES } from '../document/sequences.js';

/** Checks that what one part of a reel names by name exists in another: parents, sheets, clips. */
export function checkReferences(reel: ReelDocument, report: Report): void {
  const roles = Object.keys(reel.roles ?? {});
  const sheets = Object.keys(reel.sheets ?? {});
  const clips = Object.keys(reel.clips);
  for (const role of roles) {
    const { parent, sheet, shapes } = reel.roles![role]!;
    const path = ['roles', role];
    if (parent !== undefined && !roles.includes(parent)) {
      report('reel/unknown-role', [...path, 'parent'], { name: parent, known: roles });
    }
    if (sheet !== undefined && !sheets.includes(sheet)) {
      report('reel/unknown-sheet', [...path, 'sheet'], { name: sheet, known: sheets });
    }
    for (const name of Object.keys(shapes ?? {})) {
      if (Object.hasOwn(KNOWN_PROPERTIES, name))
        report('reel/shape-name', [...path, 'shapes', name], { name }, 'error', 'name');
    }
    checkParents(reel, role, report);
  }
  checkSequences(reel, clips, report);
  checkRoutines(reel, report);
}

function checkParents(reel: ReelDocument, role: string, report: Report): void {
  const seen = [role];
  for (let parent = reel.roles![role]!.parent; parent !== undefined; parent = reel.roles![parent]?.parent) {
    const known = seen.indexOf(parent);
    seen.push(parent);
    if (known >= 0) {
      // Said once, by the first role of the circle itself; roles that only hang on it are fine but for that.
      const circle = seen.slice(known);
      const first = Object.keys(reel.roles!).find((name) => circle.includes(name));
      if (known === 0 && first === role) report('reel/parent-circle', ['roles', role, 'parent'], { roles: circle });
      return;
    }
    if (seen.length > LIMITS.parents) {
      report('reel/parent-depth', ['roles', role, 'parent'], { limit: LIMITS.parents });
      return;
    }
  }
}

function checkSequences(reel: ReelDocument, clips: readonly string[], report: Report): void {
  const checkClip = (name: string, path: DocumentPath) => {
    if (!clips.includes(name)) report('reel/unknown-clip', path, { name, known: clips });
  };
  for (const [chain, links] of Object.entries(reel.chains ?? {})) {
    for (const [index, link] of links.entries()) {
      const path = ['chains', chain, index];
      if (typeof link === 'string') checkClip(link, path);
      else {
        checkClip(link.clip, [...path, 'clip']);
        const spans = Object.keys(reel.clips[link.clip]?.spans ?? {});
        if (link.span !== undefined && clips.includes(link.clip) && !spans.includes(link.span)) {
          report('reel/unknown-span', [...path, 'span'], { name: link.span, clip: link.clip, known: spans });
        }
      }
      const { clip, loop = reel.clips[clip]?.loop } = typeof link === 'string' ? { clip: link } : link;
      if (index < links.length - 1 && resolveLoop(loop).count === Infinity) {
        report('reel/chain-endless', path, { clip, chain }, 'warning');
      }
    }
    if (clips.includes(chain)) report('reel/chain-name', ['chains', chain], { name: chain }, 'error', 'name');
  }
  for (const [name, facing] of Object.entries(reel.facings ?? {})) {
    const path = ['facings', name];
    if (Array.isArray(facing)) {
      const sides = facing as readonly { readonly toward: readonly number[]; readonly clip: string }[];
      sides.forEach((side, index) => {
        checkClip(side.clip, [...path, index, 'clip']);
        if (!side.toward.some((n) => n !== 0)) report('reel/no-direction', [...path, index, 'toward'], {});
      });
    } else {
      const known = Object.keys(SIDES);
      for (const [side, clip] of Object.entries(facing)) {
        if (!known.includes(side)) report('reel/unknown-side', [...path, side], { name: side, known }, 'error', 'name');
        if (typeof clip === 'string') checkClip(clip, [...path, side]);
        else
          checkMirror(
            facing as Readonly<Record<string, unknown>>,
            side,
            (clip as { mirror: string }).mirror,
            path,
            report,
          );
      }
    }
  }
  for (const [name, { parts = [] }] of Object.entries(reel.clips)) {
    parts.forEach((part, index) => checkClip(part.clip, ['clips', name, 'parts', index, 'clip']));
  }
  checkParts(reel, clips, report);
}

/** Only a side with a clip of its own can be mirrored. */
function checkMirror(
  facing: Readonly<Record<string, unknown>>,
  side: string,
  name: string,
  path: DocumentPath,
  report: Report,
): void {
  if (typeof facing[name] === 'string') return;
  const known = Object.keys(facing).filter((other) => typeof facing[other] === 'string');
  report('reel/unknown-mirror', [...path, side, 'mirror'], { name, known });
}

/** Finds clips that are parts of themselves, said once by the first of the circle, and parts that nest too deep. */
function checkParts(reel: ReelDocument, clips: readonly string[], report: Report): void {
  const levels = new Map<string, number>();
  const levelsOf = (clip: string, above: readonly string[]): number => {
    const start = above.indexOf(clip);
    if (start >= 0) {
      // Walked from every clip in order, a circle is met first from the first of its clips that are not done yet.
      const circle = above.slice(start);
      report('reel/part-circle', ['clips', circle[0]!, 'parts'], { clips: [...circle, clip] });
      return 0;
    }
    const known = levels.get(clip);
    if (known !== undefined) return known;
    const inner = (reel.clips[clip]?.parts ?? []).map((part) => 1 + levelsOf(part.clip, [...above, clip]));
    const deepest = Math.max(0, ...inner);
    levels.set(clip, deepest);
    if (deepest === LIMITS.parts + 1) report('reel/part-depth', ['clips', clip, 'parts'], { limit: LIMITS.parts });
    return deepest;
  };
  for (const clip of clips) levelsOf(clip, []);
}

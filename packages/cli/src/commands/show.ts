import type { Command } from 'commander';
import {
  formatEasing,
  isActivity,
  isShape,
  type Clip,
  type Reel,
  type ReelDocument,
  type RoutineDocument,
  type ResolvedTrack,
  type Time,
} from 'unspool';
import { ruleText, writtenLoop } from 'unspool/edit';
import { clipOf } from '../clip-of.js';
import { CallError } from '../failure.js';
import { readReelFile } from '../files.js';
import { foldedTable, table } from '../print/table.js';
import { timingOf, timingTable } from '../print/timing.js';
import { frames, hex, round, shapeText } from '../print/values.js';

export function addShow(program: Command): void {
  program
    .command('show')
    .description('Shows the contents of a reel, or the keys of one clip over time.')
    .argument('<file>', 'a reel; - reads standard input')
    .argument('[clip]', 'a clip of the reel')
    .option('--format <format>', 'text, json', 'text')
    .addHelpText('after', '\nExamples:\n  unspool show crab.reel.json\n  unspool show crab.reel.json snap')
    .action((file: string, name: string | undefined, { format }: { format: string }) => {
      if (format !== 'text' && format !== 'json')
        throw new CallError(`unknown format ${JSON.stringify(format)}`, 'use text or json');
      const { reel } = readReelFile(file);
      const shown = name === undefined ? undefined : clipOf(reel, name);
      if (format === 'json') {
        const data = shown ? clipFacts(reel, shown, true) : reelFacts(reel);
        process.stdout.write(`${JSON.stringify(data, null, 2)}\n`);
      } else process.stdout.write(`${shown ? clipText(reel, shown) : reelText(reel)}\n`);
    });
}

function loopText({ repeat: { mode, count } }: Clip): string {
  return mode === 'once' || count === Infinity ? mode : `${mode} ×${count}`;
}

function about(reel: Reel, clip: Clip): string | undefined {
  return reel.document.clips[clip.name]?.about;
}

function keyCount(clip: Clip): number {
  return clip.tracks.reduce((sum, track) => sum + track.keys.length, 0);
}

function reelText(reel: Reel): string {
  const { name, about: description, roles = {}, sheets = {} } = reel.document;
  const lines = [name ?? '(unnamed reel)', ...(description ? [description] : []), ''];
  for (const role of reel.roles) {
    const { parent, sheet, shapes = {} } = roles[role] ?? {};
    const facts = [parent && `on ${parent}`, sheet && `sheet ${sheet}`].filter(Boolean).join(', ');
    lines.push(`role   ${role}${facts ? `  (${facts})` : ''}`);
    for (const [shape, { kind, tag, data }] of Object.entries(shapes)) {
      const label = [kind, tag, data !== undefined && JSON.stringify(data)].filter(Boolean).join(', ');
      lines.push(`shape  ${role}.${shape}  (${label})`);
    }
  }
  for (const [name, sheet] of Object.entries(sheets)) {
    const cells =
      'cells' in sheet
        ? `${sheet.cells.length} free cells`
        : `${sheet.columns} × ${sheet.rows} cells of ${sheet.cell.join(' × ')} px`;
    lines.push(`sheet  ${name}  (${sheet.image}: ${cells})`);
  }
  const rows = Object.values<Clip>(reel.clips).map((clip) => [
    clip.name,
    frames(clip.duration, clip.fps),
    `${round(clip.duration)} s`,
    loopText(clip),
    String(clip.tracks.length),
    String(keyCount(clip)),
    clip.cues.map((cue) => cue.name).join(', ') || '–',
  ]);
  const head = ['clip', 'frames', 'length', 'loop', 'tracks', 'keys', 'cues'];
  const { chains = {}, facings = {}, routines = {} } = reel.document;
  const sequences = [
    ...Object.keys(chains).map((chain) => `chain   ${chain}: ${reel.chain(chain).map(linkText).join(' → ')}`),
    ...Object.keys(facings).map((facing) => `facing  ${facing}: ${reel.facing(facing).map(sideText).join(', ')}`),
  ];
  if (sequences.length > 0) sequences.unshift('');
  for (const [name, routine] of Object.entries(routines)) sequences.push('', routineText(name, routine));
  return [...lines, '', table(head, rows, (column) => [1, 2, 4, 5].includes(column)), ...sequences].join('\n');
}

/** `cheer (loop ×2, fade 4f)` */
function linkText({ clip, loop, rate, span, fade }: ReturnType<Reel['chain']>[number]): string {
  const facts: string[] = [];
  if (span !== undefined) facts.push(`span ${span}`);
  if (loop !== undefined) facts.push(writtenLoop(loop));
  if (rate !== undefined) facts.push(`rate ${rate}`);
  if (fade !== undefined) facts.push(`fade ${typeof fade === 'number' ? `${fade}s` : fade}`);
  return facts.length > 0 ? `${clip} (${facts.join(', ')})` : clip;
}

/** `left scuttle-right mirrored`; of a side without a name its direction. */
function sideText({ name, toward, clip, flip }: ReturnType<Reel['facing']>[number]): string {
  const side = /^\d/.test(name) ? `[${toward.map(round).join(', ')}]` : name;
  return `${side} ${clip}${flip ? ' mirrored' : ''}`;
}

/** A routine: its inputs on a line, and a table of its rules, the strongest first. */
function routineText(name: string, { inputs = {}, rules }: RoutineDocument): string {
  const listed = Object.entries(inputs).map(([input, { kind, keep }]) => {
    return `${input} (${kind}${keep === undefined ? '' : `, kept ${timeText(keep)}`})`;
  });
  const rows = rules.map((rule) => {
    const { when, plays } = ruleText(rule);
    return [rule.name, rule.layer ?? '', when, plays, rule.free ?? ''];
  });
  const hasLayers = rules.some(({ layer }) => layer !== undefined);
  const columns = (row: readonly string[]) => (hasLayers ? [...row] : row.toSpliced(1, 1));
  const head = columns(['rule', 'layer', 'when', 'plays', 'free from']);
  return [`routine ${name}: ${listed.join(', ') || 'no inputs'}`, table(head, rows.map(columns), () => false)].join(
    '\n',
  );
}

const timeText = (time: Time) => (typeof time === 'number' ? `${time}s` : time);

function clipText(reel: Reel, clip: Clip): string {
  const description = about(reel, clip);
  const facts = [`${frames(clip.duration, clip.fps)} at ${clip.fps} fps`, `${round(clip.duration)} s`, loopText(clip)];
  if (clip.rate !== 1) facts.push(`rate ${clip.rate}`);
  if (clip.after === 'rest') facts.push('then returns to rest');
  const lines = [`${clip.name}: ${facts.join(', ')}`, ...(description ? [description] : []), ''];
  const { tracks } = clip;
  const times = [...new Set(tracks.flatMap((track) => track.keys.map((key) => key.at)))].sort((a, b) => a - b);
  const texts = tracks.map((track) => keyTexts(track, clip.layout.texts));
  const rows = times.map((time) => [
    frames(time, clip.fps),
    round(time),
    ...texts.map((byTime) => byTime.get(time) ?? ''),
  ]);
  const head = ['frame', 'seconds', ...tracks.map((track) => track.name)];
  lines.push(foldedTable(head, rows, (column) => column < 2, 2, process.stdout.columns ?? Infinity));
  const timing = timingTable(reel, clip);
  if (timing !== '') lines.push('', timing);
  if (clip.cues.length > 0) {
    lines.push('', 'cues');
    const cues = clip.cues.map(({ name, at, until, data }) => [
      `  ${name}`,
      frames(at, clip.fps) + (until === undefined ? '' : ` – ${frames(until, clip.fps)}`),
      data === undefined ? '' : JSON.stringify(data),
    ]);
    lines.push(...table(['', '', ''], cues).split('\n').slice(2));
  }
  for (const { shape, at, until, data } of clip.activations) {
    const { tag, data: always } = reel.shapes[shape]!;
    const given = data ?? always;
    const facts = [
      `${frames(at, clip.fps)} – ${frames(until, clip.fps)}`,
      tag,
      given !== undefined && JSON.stringify(given),
    ];
    lines.push(`shape ${shape}: ${facts.filter(Boolean).join(', ')}`);
  }
  for (const part of reel.document.clips[clip.name]?.parts ?? []) lines.push(partText(part));
  for (const [name, [from, until]] of Object.entries(clip.spans)) {
    lines.push(`span ${name}: ${frames(from, clip.fps)} – ${frames(until, clip.fps)}`);
  }
  return lines.join('\n');
}

type Part = NonNullable<ReelDocument['clips'][string]['parts']>[number];

/** `part pulse: 0.5s – 1.7s, rate 2, ping-pong ×2`, times as they are written. */
function partText({ clip, at, until, rate, loop, roles }: Part): string {
  const written = (time: Time) => (typeof time === 'number' ? `${time}s` : time);
  const facts = [`${written(at)}${until === undefined ? '' : ` – ${written(until)}`}`];
  if (rate !== undefined) facts.push(`rate ${rate}`);
  if (loop !== undefined) facts.push(writtenLoop(loop));
  for (const [inner, outer] of Object.entries(roles ?? {})) facts.push(`${outer} plays ${inner}`);
  return `part ${clip}: ${facts.join(', ')}`;
}

/** The keys of a track by their times, with their easings: `-48 → quad-out`. */
function keyTexts(track: ResolvedTrack, texts: readonly string[]): Map<number, string> {
  return new Map(track.keys.map((key, index) => [key.at, keyText(track, index, texts)]));
}

function keyText(track: ResolvedTrack, index: number, texts: readonly string[]): string {
  const key = track.keys[index]!;
  const value = key.off ? '–' : valueText(track, key.value, texts);
  if (index === track.keys.length - 1) return value;
  const way = formatEasing(key.easing);
  return way === 'linear' || key.off ? value : `${value} → ${way}`;
}

function valueText(track: ResolvedTrack, value: readonly number[], texts: readonly string[]): string {
  const { kind, channel } = track;
  if (isActivity(track)) return value[0] === 1 ? 'yes' : 'no';
  if (isShape(kind) && value.length > 2) return shapeText(kind, value);
  if (channel >= 0) return value.map(round).join(', ');
  if (kind === 'color') return hex(value);
  if (kind === 'flag') return String(value[0] !== 0);
  if (kind === 'text') return JSON.stringify(texts[value[0]!]);
  return value.map(round).join(', ');
}

function clipFacts(reel: Reel, clip: Clip, whole: boolean): object {
  const { name, duration, fps, repeat, rate, after, cues, spans } = clip;
  return {
    name,
    about: about(reel, clip),
    duration,
    fps,
    loop: { mode: repeat.mode, ...(repeat.count !== Infinity && { count: repeat.count }) },
    rate,
    after,
    tracks: whole
      ? clip.tracks.map((track) => ({
          name: track.name,
          kind: track.kind,
          ...(track.space === 'offset' && { space: track.space }),
          ...(track.mix !== 'srgb' && { mix: track.mix }),
          ...(track.turn !== 'literal' && { turn: track.turn }),
          ...(track.accumulate && { accumulate: true }),
          keys: track.keys.map(({ at, value, easing, off }) => ({
            at,
            value: off ? null : valueFact(track, value, clip.layout.texts),
            ease: formatEasing(easing),
          })),
        }))
      : clip.tracks.map((track) => track.name),
    cues: cues.map(({ name: cue, at, until, data }) => ({ name: cue, at, until, data })),
    spans,
    ...(whole && { timing: timingOf(reel, clip) }),
    activations: clip.activations,
    parts: reel.document.clips[name]?.parts,
  };
}

function valueFact(track: ResolvedTrack, value: readonly number[], texts: readonly string[]): unknown {
  const { kind } = track;
  if (isActivity(track)) return value[0] === 1;
  if (kind === 'flag') return value[0] !== 0;
  if (kind === 'text') return texts[value[0]!];
  return value.length === 1 ? value[0] : value;
}

function reelFacts(reel: Reel): object {
  const { name, about: description, roles, sheets, chains, facings, routines } = reel.document;
  const clips = Object.values<Clip>(reel.clips).map((clip) => clipFacts(reel, clip, false));
  return {
    name,
    about: description,
    roles: roles ?? Object.fromEntries(reel.roles.map((role) => [role, {}])),
    sheets,
    clips,
    chains,
    facings,
    routines,
  };
}

import { checkReading, checkText, checkWriting } from '../given.js';
import parser, { type VttCue, type VttNode } from 'webvtt-parser';
import type { CueDocument, ReelDocument, ResolvedCue, Reel } from 'unspool';
import { clipOf } from '../choose.js';
import { refuse } from '../errors.js';
import { validName } from '../names.js';
import { counted, Notes, pointer, type Converted } from '../report.js';

/** Options of `toVtt`. */
export interface ToVttOptions {
  /** The clip whose cues are written. Default: the only one. */
  readonly clip?: string;
}

/** Options of `fromVtt`. */
export interface FromVttOptions {
  /** Name of the clip. Default: that of a file by `toVtt`, else `talk`. */
  readonly clip?: string;
}

/**
 * Says in a file that payloads are data of cues, and of which clip. In files without it, they are lines that someone
 * says.
 */
const OURS = 'NOTE unspool cues of';
const READ_OURS = /^NOTE unspool cues of (\S+), ([\d.e-]+) s$/;
/** The character references of WebVTT. */
const ENTITIES = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&lrm;': '\u200e', '&rlm;': '\u200f', '&nbsp;': '\u00a0' };
/** A moment has no end; WebVTT needs one. */
const MOMENT = 0.001;

/**
 * Writes the cues of a clip as WebVTT: names as identifiers, `data.text` (with `data.voice`) as text, other data as JSON.
 * Times are milliseconds. A moment lasts one.
 */
export function toVtt(reel: Reel, options: ToVttOptions = {}): Converted<string> {
  checkWriting(reel, options);
  const clip = clipOf(reel, options.clip);
  const notes = new Notes();
  const blocks = clip.cues.map((cue, i) => {
    const at = pointer('clips', clip.name, 'cues', i);
    const end = cue.until ?? cue.at + MOMENT;
    const times = [cue.at, end].map((time) => Math.round(time * 1000) / 1000);
    const off = Math.max(Math.abs(times[0]! - cue.at), cue.until === undefined ? 0 : Math.abs(times[1]! - end));
    if (off > 1e-9) notes.approximated(at, `${cue.name} in milliseconds`, off, 'seconds');
    else notes.kept(at, cue.name);
    // Rounding may not leave an interval without a length.
    if (times[1]! <= times[0]!) times[1] = times[0]! + MOMENT;
    // These words begin blocks of other kinds.
    const name = /^(NOTE|STYLE|REGION)$/.test(cue.name) ? `${cue.name}-cue` : cue.name;
    if (name !== cue.name) notes.renamed('cue', cue.name, name);
    return `${name}\n${stamp(times[0]!)} --> ${stamp(times[1]!)}\n${payload(cue)}`;
  });
  return notes.of(
    `WEBVTT\n\n${OURS} ${clip.name}, ${clip.duration} s\n\n${blocks.join('\n\n')}${blocks.length > 0 ? '\n' : ''}`,
  );
}

function stamp(seconds: number): string {
  const milliseconds = Math.round(seconds * 1000);
  const two = (n: number) => String(Math.floor(n)).padStart(2, '0');
  const [hours, minutes] = [milliseconds / 3_600_000, (milliseconds / 60_000) % 60];
  return `${two(hours)}:${two(minutes)}:${two((milliseconds / 1000) % 60)}.${String(milliseconds % 1000).padStart(3, '0')}`;
}

function payload({ data }: ResolvedCue): string {
  if (data === undefined) return '';
  const line = lineOf(data);
  // JSON may not have the arrow of a time line in it; an escape says the same.
  if (!line)
    return JSON.stringify(data)
      .replaceAll('>', String.raw`\u003e`)
      .replaceAll('\u2028', String.raw`\u2028`);
  return line.voice === undefined ? escaped(line.text) : `<v ${escaped(line.voice)}>${escaped(line.text)}`;
}

/** Data that is a line of text, which a player of subtitles can show as it is. */
function lineOf(data: unknown): { readonly text: string; readonly voice?: string } | undefined {
  if (typeof data !== 'object' || data === null || Array.isArray(data)) return undefined;
  const { text, voice, ...others } = data as Record<string, unknown>;
  const isLine = typeof text === 'string' && (voice === undefined || typeof voice === 'string');
  if (!isLine || Object.keys(others).length > 0) return undefined;
  // An empty line would end the cue, and spaces around it would be lost.
  const isWhole =
    /^\S(.*\S)?$/s.test(text) && !/\n\s*\n|\r|\0/.test(text) && !/^[{["\d]|^(true|false|null)$/.test(text);
  // Spaces within a name become one.
  const isName = voice === undefined || /^[^\s.][^\s]*( [^\s]+)*$/.test(voice);
  return isWhole && isName ? { text, ...(voice !== undefined && { voice }) } : undefined;
}

const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

/**
 * Reads WebVTT as a reel with one clip: each cue as an interval with `data: { text, voice }`, or as what `toVtt` wrote.
 * Markup, styles, regions and positions are left out.
 *
 * @throws ConversionError for a text that does not begin with `WEBVTT`
 */
export function fromVtt(text: string, options: FromVttOptions = {}): Converted<ReelDocument> {
  checkReading(options);
  checkText(text, 'file');
  if (!/^\uFEFF?WEBVTT(?:[ \t\r\n]|$)/.test(text))
    refuse('vtt', `the text begins with ${JSON.stringify(text.slice(0, 12))}`, 'WebVTT begins with a line WEBVTT');
  const notes = new Notes();
  const [, ownName, ownDuration] = text.split(/\r\n|\r|\n/, 10).map((line) => READ_OURS.exec(line)).find(Boolean) ?? []; // prettier-ignore
  const isOurs = ownName !== undefined;
  checkMarkup(text);
  const { cues, styles, errors } = new parser.WebVTTParser(ENTITIES).parse(text, 'metadata');
  for (const { line, message } of errors) notes.dropped(`line ${line}`, message.replace(/\.$/, ''));
  if (styles.length > 0) notes.dropped('STYLE', counted(styles.length, 'style block'));
  let markup = 0;
  const written = (isOurs ? inOrder(cues, text) : cues).map((cue): CueDocument => {
    const { id } = cue;
    const [at, end] = [cue.startTime, cue.endTime].map((time) => Math.round(time * 1000) / 1000) as [number, number];
    const name = validName(id, 'line');
    if (id !== '' && id !== name) notes.renamed('cue', id, name);
    const tree = treeOf(cue);
    const data = isOurs ? dataOf(cue, tree) : spoken(tree);
    if (!isOurs && hasMarkup(tree)) markup++;
    const isMoment = isOurs && Math.abs(end - at - MOMENT) < 1e-9;
    return { at, ...(!isMoment && { until: end }), name, ...(data !== undefined && { data }) };
  });
  if (markup > 0) notes.dropped('text', `the markup of ${counted(markup, 'cue')}`);
  const clip = validName(options.clip ?? ownName ?? 'talk', 'talk');
  notes.kept(pointer('clips', clip, 'cues'), counted(written.length, 'cue'));
  const end = cues.reduce((most, { endTime }) => Math.max(most, endTime), 0);
  const duration = isOurs ? Number(ownDuration) : end;
  return notes.of({ unspool: 1, clips: { [clip]: { ...(duration > 0 && { duration }), cues: written } } });
}

/**
 * Cues as they are written: WebVTT sorts those of one moment by their ends, but they happen in the order of the clip.
 */
function inOrder(cues: readonly VttCue[], text: string): readonly VttCue[] {
  const places = new Map<string, number[]>();
  [...text.matchAll(/^(\S+ --> \S+)/gm)].forEach(([line], i) => places.set(line, [...(places.get(line) ?? []), i]));
  const placed = cues.map((cue) => ({ cue, place: places.get(`${stamp(cue.startTime)} --> ${stamp(cue.endTime)}`)?.shift() ?? cues.length })); // prettier-ignore
  return placed.sort((a, b) => a.place - b.place).map(({ cue }) => cue);
}

/** Tags within tags that a cue may have. The parser calls itself for each. */
const MOST_TAGS = 500;

/** As many cues as a clip may have. */
const MOST_CUES = 10_000;

function checkMarkup(text: string): void {
  const arrows = text.match(/-->/g)?.length ?? 0;
  if (arrows > MOST_CUES) refuse('vtt', `the file has ${arrows} cues, the limit is ${MOST_CUES}`, 'use a part of it');
  let tags = 0;
  let line = 1;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === 60) tags++;
    else if (code === 10) {
      line++;
      // An empty line ends a cue.
      if (text.charCodeAt(i + 1) === 10 || text.charCodeAt(i + 1) === 13) tags = 0;
    }
    if (tags > MOST_TAGS) refuse('vtt', `line ${line}: a cue has more than ${MOST_TAGS} tags`, 'make it shorter');
  }
}

function treeOf(cue: VttCue): readonly VttNode[] {
  return new parser.WebVTTParser(ENTITIES).parse(`WEBVTT\n\n00:00.000 --> 00:01.000\n${cue.text}`, 'subtitles').cues[0]?.tree?.children ?? []; // prettier-ignore
}

function dataOf(cue: VttCue, tree: readonly VttNode[]): unknown {
  if (cue.text === '') return undefined;
  if (/^[{["\d-]|^(true|false|null)$/.test(cue.text)) {
    try {
      return JSON.parse(cue.text) as unknown;
    } catch {
      // Edited by someone: a line like any other.
    }
  }
  return spoken(tree);
}

/** What a viewer reads of a cue, and whose voice it is. */
function spoken(tree: readonly VttNode[]): { readonly text: string; readonly voice?: string } {
  const voice = voiceIn(tree);
  return { text: textIn(tree).trim(), ...(voice !== undefined && { voice }) };
}

const textIn = (nodes: readonly VttNode[]): string =>
  nodes
    .map((node) => (node.type === 'text' ? node.value : node.name === 'rt' ? '' : textIn(node.children ?? [])))
    .join('');

function voiceIn(nodes: readonly VttNode[]): string | undefined {
  for (const node of nodes) {
    if (node.name === 'v' && node.value) return unescaped(node.value);
    const inside = voiceIn(node.children ?? []);
    if (inside !== undefined) return inside;
  }
  return undefined;
}

const unescaped = (text: string) => text.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&amp;', '&');

const hasMarkup = (nodes: readonly VttNode[]): boolean =>
  nodes.some((node) => (node.type !== 'text' && node.name !== 'v') || hasMarkup(node.children ?? []));

import { checkBytes, checkReading, checkText, checkWriting, quoted } from './given.js';
import { formatReel, parseReel, type Reel, type ReelDocument } from 'unspool';
import type { CssOptions } from './css/animations.js';
import { fromCss, type FromCssOptions } from './css/from-css.js';
import { fromWebAnimations, type WebAnimationsInput } from './css/from-web-animations.js';
import { toCss } from './css/to-css.js';
import { toWebAnimations } from './css/web-animations.js';
import { fromCsv, type FromCsvOptions } from './csv/from-csv.js';
import { toCsv, type ToCsvOptions } from './csv/to-csv.js';
import { refuse } from './errors.js';
import { fromGltf, type FromGltfOptions } from './gltf/from-gltf.js';
import { toGltf, type ToGltfOptions } from './gltf/to-gltf.js';
import { counted, Notes, type Converted } from './report.js';
import { fromSvgPath, toSvgPath, type FromSvgPathOptions, type ToSvgPathOptions } from './svg/svg.js';
import { firstLine } from './text.js';
import { fromVtt, toVtt, type FromVttOptions } from './vtt/vtt.js';

/** A format that reels are read from or written to. */
export type Format = keyof typeof FORMATS;

/** Options of reading any format; each takes its own. */
export interface ReadOptions
  extends FromGltfOptions, FromCssOptions, FromVttOptions, FromCsvOptions, FromSvgPathOptions {}

/** Options of writing any format; each takes its own. */
export interface WriteOptions extends Omit<ToGltfOptions, 'format'>, CssOptions, ToCsvOptions, ToSvgPathOptions {}

interface FormatFacts {
  /** What people call it. */
  readonly title: string;
  readonly endings: readonly string[];
  readonly read: (bytes: Uint8Array, options: ReadOptions) => Converted<ReelDocument>;
  readonly write: (reel: Reel, options: WriteOptions) => Converted<Uint8Array | string> | Promise<Converted<Uint8Array | string>>; // prettier-ignore
}

/** The text of a file. Refuses what is not in UTF-8. */
function textOf(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return refuse('text', 'the file is not in UTF-8', 'save it as UTF-8');
  }
}

/** Clips by name where a format has one for all that it writes. */
const oneClip = ({ clips, clip = clips?.[0], ...options }: WriteOptions): WriteOptions => {
  if (clips && clips.length > 1) refuse('option', `${clips.length} clips for a format that has one`, 'choose one clip');
  return { ...options, ...(clip !== undefined && { clip }) };
};

function readJson(bytes: Uint8Array): WebAnimationsInput {
  const text = textOf(bytes);
  checkText(text, 'file');
  try {
    return JSON.parse(text) as WebAnimationsInput;
  } catch (error) {
    return refuse('web', `the file is not JSON: ${firstLine(error)}`, 'use what toWebAnimations writes');
  }
}

/** All formats. A new one is a new row. */
const FORMATS = {
  glb: {
    title: 'glTF 2.0, binary',
    endings: ['.glb'],
    read: (bytes, options) => fromGltf(bytes, options),
    write: (reel, options) => toGltf(reel, { ...options, format: 'glb' }),
  },
  gltf: {
    title: 'glTF 2.0, JSON',
    endings: ['.gltf'],
    read: (bytes, options) => fromGltf(bytes, options),
    write: (reel, options) => toGltf(reel, { ...options, format: 'gltf' }),
  },
  css: {
    title: 'CSS animations',
    endings: ['.css'],
    read: (bytes, options) => fromCss(textOf(bytes), options),
    write: (reel, options) => toCss(reel, options),
  },
  'web-animations': {
    title: 'Web Animations, JSON',
    endings: ['.animations.json'],
    read: (bytes) => fromWebAnimations(readJson(bytes)),
    write: (reel, options) => {
      const { result, report } = toWebAnimations(reel, options);
      return { result: `${JSON.stringify(result, undefined, 2)}\n`, report };
    },
  },
  vtt: {
    title: 'WebVTT cues',
    endings: ['.vtt'],
    read: (bytes, options) => fromVtt(textOf(bytes), options),
    write: (reel, options) => toVtt(reel, oneClip(options)),
  },
  csv: {
    title: 'CSV samples',
    endings: ['.csv'],
    read: (bytes, options) => fromCsv(textOf(bytes), options),
    write: (reel, options) => toCsv(reel, oneClip(options)),
  },
  svg: {
    title: 'SVG path',
    endings: ['.svg'],
    read: (bytes, options) => fromSvgPath(textOf(bytes), options),
    write: (reel, options) => {
      const { result, report } = toSvgPath(reel, oneClip(options));
      return { result: result.svg, report };
    },
  },
  reel: {
    title: 'reel',
    endings: ['.reel.json'],
    read: (bytes) => {
      const reel = parseReel<unknown>(textOf(bytes));
      const notes = new Notes();
      notes.kept('', counted(Object.keys(reel.clips).length, 'clip'));
      return notes.of(reel.document);
    },
    write: (reel) => new Notes().of(formatReel(reel.document)),
  },
} as const satisfies Record<string, FormatFacts>;

/** The names of all formats, with what people call them. */
export const formatNames: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries(FORMATS).map(([name, { title }]) => [name, title]),
);

/** The file name endings of a format. */
export const endingsOf = (format: Format): readonly string[] => factsOf(format).endings;

/** The format that a file's name says; `undefined` for another. */
export function formatOf(fileName: string): Format | undefined {
  const name = typeof fileName === 'string' ? fileName.toLowerCase() : '';
  const found = Object.entries(FORMATS).find(([, { endings }]) =>
    endings.some((ending: string) => name.endsWith(ending)),
  );
  return found?.[0] as Format | undefined;
}

function factsOf(format: Format): FormatFacts {
  if (isFormat(format)) return FORMATS[format];
  return refuse('format', `unknown format ${quoted(format)}`, `use one of: ${Object.keys(FORMATS).join(', ')}`);
}

/** Whether a text is the name of a format. */
export const isFormat = (text: string): text is Format => Object.hasOwn(FORMATS, text);

/**
 * Reads a file of any format as a reel. It is checked in its written form, with places in that text.
 *
 * @throws ConversionError for a file that is not of the format; ReelError when what it says is no valid reel
 */
export function readFormat(format: Format, bytes: Uint8Array, options: ReadOptions = {}): Converted<Reel> {
  const facts = factsOf(format);
  checkReading(options);
  checkBytes(bytes);
  const { result, report } = facts.read(bytes, options);
  return { result: parseReel<unknown>(formatReel(result)), report };
}

/** Writes a reel in any format, as text or bytes. */
export async function writeFormat(
  format: Format,
  reel: Reel,
  options: WriteOptions = {},
): Promise<Converted<Uint8Array | string>> {
  const facts = factsOf(format);
  checkWriting(reel, options);
  return facts.write(reel, options);
}

/**
 * `@unspool/open`: reels to and from open formats.
 * @module
 */
export { ConversionError } from './errors.js';
export { toGltf, type ToGltfOptions } from './gltf/to-gltf.js';
export type { Up } from './gltf/axes.js';
export { formatError, formatNote } from './report.js';
export type { ConversionNote, ConversionReport, Converted, RenamedItem } from './report.js';
export { fromGltf, type FromGltfOptions } from './gltf/from-gltf.js';
export { fromVtt, toVtt, type FromVttOptions, type ToVttOptions } from './vtt/vtt.js';
export { fromCsv, type FromCsvOptions } from './csv/from-csv.js';
export { toCsv, type ToCsvOptions } from './csv/to-csv.js';
export { fromSvgPath, toSvgPath, type FromSvgPathOptions, type SvgPath, type ToSvgPathOptions } from './svg/svg.js';
export { fromCss, type FromCssOptions } from './css/from-css.js';
export { toCss } from './css/to-css.js';
export type { CssOptions, Timing } from './css/animations.js';
export { fromWebAnimations, type WebAnimationsInput } from './css/from-web-animations.js';
export { toWebAnimations, type WebAnimation, type WebAnimations, type WebKeyframe } from './css/web-animations.js';
export {
  endingsOf,
  formatNames,
  formatOf,
  isFormat,
  readFormat,
  writeFormat,
  type Format,
  type ReadOptions,
  type WriteOptions,
} from './formats.js';

import { existsSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { compileReel, type Reel } from 'unspool';

/** The message to the page after a step on the workbench: `{ id, packed }`. */
export const STEP = 'unspool:step';

/**
 * The code of the module of a reel: compiled ahead, so that nothing has to be parsed or checked.
 *
 * @param hot          the id of the module where the running game is to follow it; `undefined` in a build
 * @param publicFolder the folder that is served as it is, if there is one: images of sheets may lie there, too
 * @param onMissing    called with images of sheets that are not there
 */
export function codeOf(
  reel: Reel,
  file: string,
  hot: string | undefined,
  publicFolder: string,
  onMissing: (image: string) => void,
): string {
  const images = imagesOf(reel, dirname(file), publicFolder, onMissing);
  const packed = JSON.stringify(JSON.stringify(compileReel(reel)));
  const placed = images.map(([role, image], i) => {
    const sheet = `reel.sheetOf(${JSON.stringify(role)})`;
    return `  if (${sheet}?.image === ${JSON.stringify(image)}) ${sheet}.image = image${i};`;
  });
  return [
    `import { loadReel } from 'unspool/play';`,
    ...(hot ? [`import { hotReel } from 'unspool/live';`] : []),
    ...images.map(([, image, isPublic], i) =>
      isPublic
        ? `const image${i} = import.meta.env.BASE_URL + ${JSON.stringify(image)};`
        : `import image${i} from ${JSON.stringify(`${relative(image)}?url`)};`,
    ),
    'const load = (packed) => {',
    '  const reel = loadReel(packed);',
    ...placed,
    '  return reel;',
    '};',
    `let reel = /* @__PURE__ */ load(JSON.parse(${packed}));`,
    ...(hot
      ? [
          'if (import.meta.hot) {',
          '  import.meta.hot.accept();',
          '  const follow = hotReel(import.meta.hot.data, reel, (next) => (reel = next));',
          // Steps on the workbench come before it saves them.
          `  import.meta.hot.on('${STEP}', ({ id, packed }) => id === ${JSON.stringify(hot)} && follow(load(packed)));`,
          '}',
        ]
      : []),
    // Not `export default`, which would export the value of now for ever.
    'export { reel as default };',
    '',
  ].join('\n');
}

const relative = (image: string) => (image.startsWith('.') ? image : `./${image}`);

/** The roles with a sheet whose image is a file beside the reel, or in the public folder. */
function imagesOf(
  reel: Reel,
  folder: string,
  publicFolder: string,
  onMissing: (image: string) => void,
): [role: string, image: string, isPublic: boolean][] {
  return reel.roles.flatMap((role): [string, string, boolean][] => {
    const image = reel.sheetOf(role)?.image;
    if (image === undefined || /^([a-z]+:|\/)/i.test(image)) return [];
    if (existsSync(resolve(folder, image))) return [[role, image, false]];
    if (publicFolder !== '' && existsSync(join(publicFolder, image))) return [[role, image, true]];
    onMissing(image);
    return [];
  });
}

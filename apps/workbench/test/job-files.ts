import { Resvg } from '@resvg/resvg-js';

/** The reels, pictures and sounds with which the jobs begin. */
export const REELS = ['ball', 'door', 'walker', 'tool', 'sword', 'scene', 'edits'] as const;
export type JobReel = (typeof REELS)[number];

const reel = (clips: object, more: object = {}) => ({ unspool: 1, fps: 60, clips, ...more });
const line = (...keys: readonly (readonly [number, number, string?])[]) =>
  keys.map(([at, value, ease]) => ({ at: `${at}f`, value, ...(ease && { ease }) }));

/** Eight rows of six drawings, 16 px each: a square that walks. */
export function sheetPicture(): Uint8Array {
  const cells = Array.from({ length: 48 }, (_, i) => {
    const [x, y] = [(i % 6) * 16, Math.floor(i / 6) * 16];
    return `<rect x="${x + 3 + (i % 6)}" y="${y + 4}" width="7" height="9" fill="hsl(${i * 7}, 60%, 50%)"/>`;
  });
  return picture(96, 128, cells.join(''));
}

export function picture(width: number, height: number, inside: string): Uint8Array {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${inside}</svg>`;
  return new Resvg(svg).render().asPng();
}

/** A tone of 0.3 s as WAV. */
export function tone(): Buffer {
  const [rate, count] = [22_050, 6615];
  const wav = Buffer.alloc(44 + 2 * count);
  wav.write('RIFF', 0, 'latin1');
  wav.writeUInt32LE(36 + 2 * count, 4);
  wav.write('WAVEfmt ', 8, 'latin1');
  wav.writeUInt32LE(16, 16);
  [1, 1].forEach((n, i) => wav.writeUInt16LE(n, 20 + 2 * i));
  wav.writeUInt32LE(rate, 24);
  wav.writeUInt32LE(2 * rate, 28);
  [2, 16].forEach((n, i) => wav.writeUInt16LE(n, 32 + 2 * i));
  wav.write('data', 36, 'latin1');
  wav.writeUInt32LE(2 * count, 40);
  for (let i = 0; i < count; i++)
    wav.writeInt16LE(Math.round(20_000 * Math.sin((2 * Math.PI * 700 * i) / rate)), 44 + 2 * i);
  return wav;
}

const STILL = { roles: { body: {} } };
export const DOCUMENTS: Readonly<Record<JobReel, object>> = {
  ball: reel({}, { roles: { ball: {} } }),
  door: reel(
    {
      open: {
        duration: '40f',
        tracks: {
          'door.rotation': line([0, 0, 'quad-in'], [10, 20], [30, 90]),
          'door.position': [{ at: 0, value: [0, 0] }],
        },
        cues: [{ at: '30f', name: 'open', data: { sound: 'click' } }],
        spans: { swing: ['10f', '30f'] },
      },
    },
    { roles: { door: {} } },
  ),
  walker: reel({}, { roles: {} }),
  tool: reel(
    { dig: { duration: '14f', tracks: { 'body.frame': [{ at: 0, frames: [0, 13], each: '1f' }] } } },
    { roles: { body: {}, tool: {} } },
  ),
  sword: reel(
    { swing: { duration: '12f', tracks: { 'arm.rotation': line([0, -80], [12, 80]) } } },
    {
      roles: { arm: { shapes: { blade: { kind: 'capsule', tag: 'hits' } } } },
    },
  ),
  scene: reel(
    {
      'cut-scene': {
        duration: '120f',
        tracks: {
          'crab.position': [
            { at: 0, value: [-60, 0] },
            { at: '60f', value: [60, 0] },
          ],
        },
      },
      wave: { duration: '30f', tracks: { 'crab.rotation': line([0, 0], [15, 20], [30, 0]) } },
    },
    { roles: { crab: {}, gull: {}, boat: {} } },
  ),
  edits: reel(
    {
      long: {
        duration: '60f',
        tracks: {
          'body.rotation': line([0, 0, 'quad-out'], [20, 40, 'back-out'], [40, 10, 'quad-out'], [60, 0]),
          'body.opacity': line([0, 1], [20, 0.5, 'back-out'], [60, 1]),
          'arm.rotation': line([0, 0], [30, 90, 'quad-out'], [60, 0]),
        },
        cues: [{ at: '40f', name: 'land' }],
      },
      captured: {
        duration: '60f',
        tracks: {
          'body.rotation': line(
            ...Array.from({ length: 31 }, (_, i): [number, number] => [
              2 * i,
              Number((30 * Math.sin(i / 5)).toFixed(3)),
            ]),
          ),
        },
      },
    },
    { roles: { ...STILL.roles, arm: { parent: 'body' } } },
  ),
};

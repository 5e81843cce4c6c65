import { easing } from 'unspool';

const SIZE = 34;
const STEPS = 40;

/** How an easing goes, as a small picture: time to the right, progress upwards. */
export function EasePicture({ ease }: { readonly ease: string }) {
  const points = pointsOf(ease);
  return (
    <svg className="ease-picture" viewBox={`0 -10 ${SIZE} ${SIZE + 20}`} aria-hidden>
      <path className="frame" d={`M0 ${SIZE}H${SIZE}M0 0H${SIZE}`} />
      {points ? (
        <polyline points={points} />
      ) : (
        <path d={`M0 ${SIZE}C${SIZE * 0.5} ${SIZE} ${SIZE * 0.5} 0 ${SIZE} 0`} className="by-keys" />
      )}
    </svg>
  );
}

function pointsOf(ease: string): string | undefined {
  // These two go by the keys around them: no curve is theirs alone.
  if (ease === 'smooth' || ease === 'curve') return undefined;
  if (ease === 'hold') return `0,${SIZE} ${SIZE},${SIZE} ${SIZE},0`;
  try {
    const curve = easing(ease);
    return Array.from(
      { length: STEPS + 1 },
      (_, i) => `${((SIZE * i) / STEPS).toFixed(1)},${(SIZE * (1 - curve(i / STEPS))).toFixed(1)}`,
    ).join(' ');
  } catch {
    return undefined;
  }
}

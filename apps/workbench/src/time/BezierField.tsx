import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { parseEasing } from 'unspool';

const SIZE = 96;
const PAD = 40;

type Points = readonly [number, number, number, number];

/** A cubic-bezier drawn by its two handles: dragged, or moved by the arrow keys. */
export function BezierField({
  ease,
  onChange,
  onDone,
}: {
  readonly ease: string;
  readonly onChange: (ease: string) => void;
  readonly onDone: () => void;
}) {
  const held = useRef<0 | 2 | undefined>(undefined);
  const points = pointsOf(ease);
  const give = (k: 0 | 2, x: number, y: number) => {
    const next = [...points] as [number, number, number, number];
    next[k] = round(Math.min(1, Math.max(0, x)));
    next[k + 1] = round(Math.min(2.5, Math.max(-1.5, y)));
    onChange(`cubic-bezier(${next.join(', ')})`);
  };
  const onPointerMove = (event: PointerEvent<SVGSVGElement>) => {
    if (held.current === undefined) return;
    const box = event.currentTarget.getBoundingClientRect();
    const scale = box.width / (SIZE + 20);
    give(
      held.current,
      ((event.clientX - box.left) / scale - 10) / SIZE,
      1 - ((event.clientY - box.top) / scale - PAD) / SIZE,
    );
  };
  const onKeyDown = (k: 0 | 2) => (event: KeyboardEvent) => {
    const by = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] } as const)[
      event.key as 'ArrowUp'
    ];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    give(k, points[k] + by[0] * 0.05, points[k + 1]! + by[1] * 0.05);
    onDone();
  };
  const at = (x: number, y: number) => `${10 + x * SIZE} ${PAD + (1 - y) * SIZE}`;
  const [x1, y1, x2, y2] = points;
  return (
    <div className="bezier">
      <svg
        viewBox={`0 0 ${SIZE + 20} ${SIZE + 2 * PAD}`}
        onPointerMove={onPointerMove}
        onPointerUp={() => {
          if (held.current !== undefined) onDone();
          held.current = undefined;
        }}
      >
        <rect className="frame" x={10} y={PAD} width={SIZE} height={SIZE} />
        <path className="arm" d={`M${at(0, 0)}L${at(x1, y1)}M${at(1, 1)}L${at(x2, y2)}`} />
        <path className="line" d={`M${at(0, 0)}C${at(x1, y1)} ${at(x2, y2)} ${at(1, 1)}`} />
        {([0, 2] as const).map((k) => (
          <circle
            key={k}
            className="grip"
            cx={10 + points[k] * SIZE}
            cy={PAD + (1 - points[k + 1]!) * SIZE}
            r={6}
            tabIndex={0}
            role="slider"
            aria-label={k === 0 ? 'Start handle' : 'End handle'}
            aria-valuenow={points[k + 1]}
            aria-valuetext={`${points[k]}, ${points[k + 1]}`}
            onKeyDown={onKeyDown(k)}
            onPointerDown={(event) => {
              held.current = k;
              event.currentTarget.ownerSVGElement!.setPointerCapture(event.pointerId);
            }}
          />
        ))}
      </svg>
      <code>cubic-bezier({points.join(', ')})</code>
    </div>
  );
}

const round = (n: number) => Number(n.toFixed(2));

/** The handles of an easing that has some; else those of a starting point. */
function pointsOf(ease: string): Points {
  const reading = parseEasing(ease);
  return 'easing' in reading && reading.easing.kind === 'bezier' ? reading.easing.points : [0.4, 0, 0.6, 1];
}

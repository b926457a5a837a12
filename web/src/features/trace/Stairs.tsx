/** One step of the staircase: where it starts and ends, in minor units away from the sealed closing. */
export interface Step {
  from: number;
  to: number;
}

const WIDTH = 396;
const LEFT = 36;
const RIGHT = 118;

/** Minor units to pixels: the whole walk fits, with room for the figures at its right. */
export function scaleOf(steps: Step[]): (value: number) => number {
  const values = steps.flatMap(({ from, to }) => [from, to]).concat(0);
  const low = Math.min(...values);
  const span = Math.max(...values) - low;
  return (value) => (span === 0 ? WIDTH / 2 - 40 : LEFT + ((value - low) / span) * (WIDTH - LEFT - RIGHT));
}

interface StairProps {
  step: Step;
  scale: (value: number) => number;
  height: number;
  /** Money added, taken, or nothing moved. */
  tone: "up" | "down" | "flat";
  label: string;
}

/** A step drawn to its shift, the walk's thin line leading in from above and out below. */
export function Stair({ step, scale, height, tone, label }: StairProps) {
  const [x, end] = [scale(step.from), scale(step.to)];
  const [left, right] = [Math.min(x, end), Math.max(x, end)];
  const bar = { up: "fill-wine", down: "fill-slate", flat: "fill-muted" }[tone];
  return (
    <svg width={WIDTH} height={height} aria-hidden="true" className="block">
      <path d={`M${x} 0V10M${end} 28V${height}`} className="stroke-muted" strokeWidth="1" fill="none" />
      <rect
        x={left - (tone === "flat" ? 1 : 0)}
        y="8"
        width={Math.max(2, right - left)}
        height="20"
        rx="2"
        className={bar}
      />
      <text x={right + 9} y="23" className="fill-ink font-mono text-[13px] font-semibold">
        {label}
      </text>
    </svg>
  );
}

/** The thin line of the walk, through a row without a step. */
export function Through({ at, scale, height }: { at: number; scale: (value: number) => number; height: number }) {
  const x = scale(at);
  return (
    <svg width={WIDTH} height={height} aria-hidden="true" className="block">
      <path d={`M${x} 0V${height}`} className="stroke-muted" strokeWidth="1" fill="none" />
    </svg>
  );
}

interface LandingProps {
  at: number;
  scale: (value: number) => number;
  text: string;
  /** The foot of the stairs, not their top. */
  foot?: boolean;
  /** It is not where the stairs began. */
  off?: boolean;
}

/** A balance at the top or the foot of the stairs, on the walk's line. */
export function Landing({ at, scale, text, foot = false, off = false }: LandingProps) {
  const x = Math.max(70, Math.min(WIDTH - 70, scale(at)));
  return (
    <svg width={WIDTH} height={46} aria-hidden="true" className="block">
      <path d={`M${scale(at)} ${foot ? "0V10" : "34V46"}`} className="stroke-muted" strokeWidth="1" fill="none" />
      <text
        x={x}
        y="28"
        textAnchor="middle"
        className={`font-mono text-[17px] font-bold ${off ? "fill-ember" : "fill-ink"}`}
      >
        {text}
      </text>
    </svg>
  );
}

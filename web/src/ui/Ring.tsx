import type { Schemas } from "../api/client";

type RingData = Schemas["RingOut"];

const WORDS: Record<RingData["state"], string> = {
  "no statement": "no statement",
  "in work": "in work",
  "at naught": "at naught",
  sealed: "sealed",
  disturbed: "disturbed",
  accepted: "sealed, a change accepted",
  "in review": "in review",
  "opened again": "opened again",
};

function scallops(count: number, outer: number, inner: number): string {
  const points: string[] = [];
  for (let index = 0; index < count; index++) {
    const from = (index / count) * 2 * Math.PI;
    const to = ((index + 1) / count) * 2 * Math.PI;
    const middle = (from + to) / 2;
    const at = (angle: number, radius: number) =>
      `${(16 + radius * Math.cos(angle)).toFixed(2)} ${(16 + radius * Math.sin(angle)).toFixed(2)}`;
    if (index === 0) points.push(`M${at(from, inner)}`);
    points.push(`Q${at(middle, outer)} ${at(to, inner)}`);
  }
  return `${points.join("")}Z`;
}

const SEAL = scallops(13, 16.4, 12.4);
const CIRCLE = 2 * Math.PI * 11;

/** The ring of a reconciliation: one form for each state, the arc its share of what is resolved. */
export function Ring({ ring, size = 26 }: { ring: RingData; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" role="img" aria-label={WORDS[ring.state]} className="shrink-0">
      <RingForm ring={ring} />
    </svg>
  );
}

function RingForm({ ring }: { ring: RingData }) {
  switch (ring.state) {
    case "no statement":
      return (
        <circle cx="16" cy="16" r="11" fill="none" className="stroke-muted" strokeWidth="1.6" strokeDasharray="1.6 3" />
      );
    case "in work": {
      const arc = (ring.done / Math.max(1, ring.of)) * CIRCLE;
      return (
        <g fill="none" strokeWidth="5">
          <circle cx="16" cy="16" r="11" className="stroke-line" />
          <circle
            cx="16"
            cy="16"
            r="11"
            className="stroke-wine"
            strokeDasharray={`${arc} ${CIRCLE}`}
            transform="rotate(-90 16 16)"
          />
        </g>
      );
    }
    case "at naught":
      return <circle cx="16" cy="16" r="11" fill="none" className="stroke-wine" strokeWidth="5" />;
    case "sealed":
      return (
        <g>
          <path d={SEAL} className="fill-wine" />
          <circle cx="16" cy="16" r="7" fill="none" className="stroke-on-wine" strokeWidth="1.1" opacity="0.75" />
        </g>
      );
    case "accepted":
      return (
        <g>
          <path d={SEAL} className="fill-wine" />
          <path d="M13 1 L17 9 L12.5 15 L18.5 20 L14.5 31" fill="none" className="stroke-on-wine" strokeWidth="1.2" />
          <path d="M11 12h8M12 20h9" fill="none" className="stroke-on-wine" strokeWidth="2.4" />
        </g>
      );
    case "in review":
      return (
        <g fill="none" className="stroke-wine">
          <circle cx="16" cy="16" r="11" strokeWidth="5" strokeDasharray={`${CIRCLE / 2 - 2.5} 2.5`} />
          <circle cx="16" cy="16" r="3.2" className="fill-wine stroke-none" />
        </g>
      );
    case "opened again": {
      const arc = (ring.done / Math.max(1, ring.of)) * CIRCLE;
      return (
        <g fill="none">
          <path d={SEAL} className="stroke-wine" strokeWidth="1.4" strokeDasharray="2.6 2" />
          <circle
            cx="16"
            cy="16"
            r="8"
            className="stroke-wine"
            strokeWidth="4"
            strokeDasharray={`${(arc * 8) / 11} ${CIRCLE}`}
            transform="rotate(-90 16 16)"
          />
        </g>
      );
    }
    case "disturbed":
      return (
        <g>
          <path d={SEAL} className="fill-ember" />
          <path d="M13 1 L17 9 L12.5 15 L18.5 20 L14.5 31" fill="none" className="stroke-sheet" strokeWidth="2.6" />
        </g>
      );
  }
}

/** Ring and word together, for legends. */
export function RingWord({ ring }: { ring: RingData }) {
  return (
    <span className="inline-flex items-center gap-1.5 text-xs text-muted">
      <Ring ring={ring} size={16} />
      {WORDS[ring.state]}
    </span>
  );
}

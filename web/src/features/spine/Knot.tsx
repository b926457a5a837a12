import type { Row } from "./api";

/** The knot of a row on the spine: how bank and books are joined here. */
export function Knot({ row, subs, here }: { row: Row; subs: number; here: boolean }) {
  const height = subs * 28;
  const middle = 14;
  const both = row.lines.length > 0 && row.entries.length > 0;
  const left = row.lines.length > 0;
  return (
    <svg width="64" height={height} className="block" aria-hidden="true">
      <g className={here ? "stroke-on-wine" : strokeOf(row)} strokeWidth="2" fill="none">
        {row.kind === "proposal" && both && <path d={`M0 ${middle}H64`} strokeDasharray="4 3" />}
        {row.kind === "proposal" && !both && (
          <path
            d={left ? `M0 ${middle}H32V${height - middle}H0` : `M64 ${middle}H32V${height - middle}H64`}
            strokeDasharray="4 3"
          />
        )}
        {row.kind === "question" && <path d={`M0 ${middle}H64`} strokeDasharray="4 3" />}
        {row.kind === "matched" && both && (
          <>
            <path d={`M0 ${middle}H64`} />
            {Array.from({ length: subs - 1 }, (_, n) => (
              <path
                key={n}
                d={`M32 ${middle}V${28 * (n + 1) + middle}${row.entries.length > n + 1 ? "H64" : ""}${row.lines.length > n + 1 ? `M0 ${28 * (n + 1) + middle}H32` : ""}`}
              />
            ))}
          </>
        )}
        {row.kind === "ticked" && <path d={`M0 ${middle}H64`} />}
        {(row.kind === "wash" || row.kind === "bank error") && (
          <path d={left ? `M0 ${middle}H32V${height - middle}H0` : `M64 ${middle}H32V${height - middle}H64`} />
        )}
        {row.kind === "line" && <path d={`M0 ${middle}H27`} strokeWidth="1.4" />}
        {(row.kind === "outstanding" || row.kind === "later") && <path d={`M37 ${middle}H64`} strokeWidth="1.4" />}
      </g>
      <KnotForm row={row} here={here} />
    </svg>
  );
}

function strokeOf(row: Row): string {
  if (row.kind === "question") return "stroke-ember";
  if (row.kind === "matched" || row.kind === "proposal" || row.kind === "ticked") return "stroke-wine";
  return "stroke-slate";
}

function KnotForm({ row, here }: { row: Row; here: boolean }) {
  switch (row.kind) {
    case "matched":
    case "ticked":
      return <circle cx="32" cy="14" r="5" className={here ? "fill-on-wine" : "fill-wine"} />;
    case "proposal":
      return (
        <circle
          cx="32"
          cy="14"
          r="4"
          strokeWidth="2"
          className={here ? "fill-wine stroke-on-wine" : "fill-paper stroke-wine"}
        />
      );
    case "question":
      return (
        <g>
          <circle cx="32" cy="14" r="9" className="fill-ember" />
          <text x="32" y="18" textAnchor="middle" className="fill-sheet font-mono text-[11px] font-bold">
            ?
          </text>
        </g>
      );
    case "wash":
      return (
        <g>
          <circle cx="32" cy="14" r="8" className="fill-slate" />
          <path d="M27.5 15q2.2-3.4 4.5-1t4.5-1" className="stroke-sheet" strokeWidth="1.8" fill="none" />
        </g>
      );
    default:
      return (
        <circle
          cx="32"
          cy="14"
          r="4.6"
          strokeWidth="2"
          className={
            here
              ? "fill-wine stroke-on-wine"
              : row.kind === "later"
                ? "fill-paper stroke-line"
                : "fill-paper stroke-slate"
          }
        />
      );
  }
}

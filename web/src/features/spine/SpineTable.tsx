import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";

import type { Row } from "./api";
import type { Fold, Items, Shown } from "./rows";
import { FoldRow, HeadingRow, SpineRow } from "./SpineRow";
import type { Place, Side } from "./state";

const ROW = 28;
const EDGE = 1;

interface SpineTableProps {
  shown: Shown[];
  items: Items;
  place: Place;
  index: number;
  onPick: (row: Row, sub: number, side: Side, select: boolean) => void;
  onFold: (fold: Fold) => void;
}

/** The rows, drawn only where they are in sight. */
export function SpineTable({ shown, items, place, index: at, onPick, onFold }: SpineTableProps) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtualizer's functions are read while rendering
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (shown[index]?.height ?? 1) * ROW + EDGE,
    getItemKey: (index) => shown[index]?.key ?? index,
    overscan: 12,
  });
  useEffect(() => rows.measure(), [rows, shown]);
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at, { align: "auto" });
  }, [at, rows]);
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Bank and books"
      aria-rowcount={shown.length}
      tabIndex={0}
      data-testid="spine"
      className="relative min-h-0 flex-1 overflow-auto outline-none [background:linear-gradient(to_right,transparent_calc(50%-32px),var(--line)_calc(50%-32px),var(--paper)_calc(50%-31px),var(--paper)_calc(50%+31px),var(--line)_calc(50%+31px),transparent_calc(50%+32px)),var(--sheet)]"
    >
      <div className="relative w-full" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((virtual) => {
          const item = shown[virtual.index];
          if (!item) return null;
          const here = virtual.index === at;
          return (
            <div
              key={virtual.key}
              role="row"
              aria-rowindex={virtual.index + 1}
              aria-selected={here}
              data-row={item.key}
              data-kind={item.kind === "row" ? item.row.kind : item.kind}
              className="absolute inset-x-0"
              style={{ transform: `translateY(${virtual.start}px)` }}
            >
              <div role="gridcell">
                {item.kind === "fold" ? (
                  <FoldRow fold={item} here={here} onPick={onFold} />
                ) : item.kind === "heading" ? (
                  <HeadingRow heading={item} here={here} />
                ) : (
                  <SpineRow
                    row={item.row}
                    items={items}
                    here={here}
                    sub={here ? place.sub : 0}
                    side={here ? place.side : "both"}
                    lines={place.lines}
                    entries={place.entries}
                    onPick={onPick}
                  />
                )}
              </div>
            </div>
          );
        })}
      </div>
    </div>
  );
}

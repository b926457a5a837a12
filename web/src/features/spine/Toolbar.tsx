import type { RefObject } from "react";

import { Button } from "../../ui/controls";
import type { Spine } from "./api";
import { OrderMenu } from "./OrderMenu";
import type { Group, Sort, View } from "./rows";
import type { Place } from "./state";

const NAMES: Partial<Record<View, string>> = {
  all: "All",
  "to do": "To do",
  proposals: "Proposals",
  questions: "Questions",
  matched: "Matched",
  "not at the bank": "Not at the bank",
};
const TICK_NAMES: Partial<Record<View, string>> = {
  all: "All",
  "not at the bank": "To tick",
  matched: "Ticked",
  "money in": "In",
  "money out": "Out",
};

/** The views offered for a reconciliation, in the order of their number keys. */
export function offeredViews(spine: Spine): View[] {
  return Object.keys(spine.strip.ticking ? TICK_NAMES : NAMES) as View[];
}

interface ToolbarProps {
  spine: Spine;
  place: Place;
  counts: Record<View, number>;
  search: RefObject<HTMLInputElement | null>;
  may: boolean;
  onView: (view: View) => void;
  onSort: (sort: Sort) => void;
  onGroups: (groups: readonly Group[]) => void;
  onSearch: (text: string) => void;
  onPasses: () => void;
  onTickShown: () => void;
  onUndo: () => void;
}

export function Toolbar({
  spine,
  place,
  counts,
  search,
  may,
  onView,
  onSort,
  onGroups,
  onSearch,
  onPasses,
  onTickShown,
  onUndo,
}: ToolbarProps) {
  const names = spine.strip.ticking ? TICK_NAMES : NAMES;
  const views = offeredViews(spine);
  const further = views.includes(place.view) ? [] : [place.view];
  return (
    <div className="no-print flex h-10 shrink-0 items-center gap-1 border-b border-line px-3">
      {[...views, ...further].map((view) => (
        <button
          key={view}
          type="button"
          aria-pressed={place.view === view}
          onClick={() => onView(view)}
          className={`rounded-md px-1.5 py-1 whitespace-nowrap ${place.view === view ? "bg-ink font-semibold text-sheet" : "text-muted hover:bg-hair hover:text-ink"}`}
        >
          {names[view] ?? view.charAt(0).toUpperCase() + view.slice(1)}{" "}
          <span className="figure ml-0.5 font-bold">{counts[view]}</span>
        </button>
      ))}
      <input
        ref={search}
        type="search"
        aria-label="Search"
        placeholder="text, 48.30, >100 …"
        value={place.search}
        onChange={(event) => onSearch(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape" || event.key === "Enter") event.currentTarget.blur();
          if (event.key === "Escape") onSearch("");
        }}
        className="ml-auto w-32 min-w-16 rounded-md border border-line bg-sheet px-2 py-1"
      />
      <OrderMenu place={place} onSort={onSort} onGroups={onGroups} />
      {may && (
        <>
          <Button
            weight="quiet"
            className="shrink-0 px-1.5"
            shortcut="Z"
            disabled={!spine.undo}
            title={spine.undo ? `Undo: ${spine.undo}` : "Nothing to undo"}
            onClick={onUndo}
          >
            Undo
          </Button>
          {spine.strip.ticking && (
            <Button
              weight="quiet"
              className="shrink-0 px-1.5"
              title="Every entry in view; search <=2026-10-15 shows those up to a date"
              onClick={onTickShown}
            >
              Tick all shown
            </Button>
          )}
          {!spine.strip.ticking && (
            <Button weight="quiet" className="shrink-0 px-1.5" shortcut="P" onClick={onPasses}>
              Run passes
            </Button>
          )}
        </>
      )}
    </div>
  );
}

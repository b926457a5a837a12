import { Button } from "../../ui/controls";
import type { Items } from "./rows";
import type { Place } from "./state";
import { useWriting } from "./writing";

/** Running sums of what is selected on each side; matching is offered when they come to zero. */
export function selectionSums(place: Place, items: Items): { bank: number; books: number } {
  let bank = 0;
  let books = 0;
  for (const id of place.lines) bank += items.lines.get(id)?.amount ?? 0;
  for (const id of place.entries) books += items.entries.get(id)?.amount ?? 0;
  return { bank, books };
}

interface SelectionBarProps {
  place: Place;
  items: Items;
  ticking: boolean;
  busy: boolean;
  onMatch: () => void;
  onClear: () => void;
}

export function SelectionBar({ place, items, ticking, busy, onMatch, onClear }: SelectionBarProps) {
  const write = useWriting();
  const { bank, books } = selectionSums(place, items);
  const off = bank - books;
  const wash = !place.lines.size || !place.entries.size;
  const number = (size: number, one: string, many: string) => `${size} ${size === 1 ? one : many}`;
  return (
    <div
      role="status"
      className="no-print grid shrink-0 grid-cols-[minmax(0,1fr)_176px_minmax(0,1fr)] items-center border-t border-line bg-wine-soft py-1"
    >
      <p className="flex justify-between px-3">
        <span>{number(place.lines.size, "line", "lines")} selected</span>
        <b className="figure">{write.amount(bank)}</b>
      </p>
      <p className="text-center">
        {ticking ? (
          <b className="figure">{write.amount(books)}</b>
        ) : (
          <b className={`figure ${off ? "text-ember" : ""}`}>{write.amount(off)}</b>
        )}
      </p>
      <p className="flex items-center justify-between gap-2 px-3">
        <b className="figure">{write.amount(books)}</b>
        <span>{number(place.entries.size, "entry", "entries")} selected</span>
        <span className="flex gap-1">
          <Button weight="main" shortcut="M" disabled={busy || (!ticking && off !== 0)} onClick={onMatch}>
            {ticking ? "Tick" : wash ? "Wash" : "Match"}
          </Button>
          <Button shortcut="Esc" onClick={onClear}>
            Clear
          </Button>
        </span>
      </p>
    </div>
  );
}

import { useEffect, useRef } from "react";

import type { Row } from "./api";
import type { Group, Sort, View } from "./rows";

/** Which side of a row the keys work on. */
export type Side = "both" | "bank" | "books";

/** What a person has in front of them; kept per reconciliation, so that coming back finds the same place. */
export interface Place {
  view: View;
  sort: Sort;
  groups: readonly Group[];
  search: string;
  unfolded: ReadonlySet<string>;
  cursor: string;
  /** Where the cursor was last put: kept when its row has gone. */
  index: number;
  sub: number;
  side: Side;
  lines: ReadonlySet<number>;
  entries: ReadonlySet<number>;
}

export type Move =
  | { type: "view"; view: View }
  | { type: "sort"; sort: Sort }
  | { type: "groups"; groups: readonly Group[] }
  | { type: "search"; search: string }
  | { type: "cursor"; cursor: string; sub: number; index: number }
  | { type: "side"; side: Side }
  | { type: "unfold"; keys: string[] }
  | { type: "fold"; keys: string[] }
  | { type: "toggle"; row: Row; sub: number; side: Side }
  | { type: "clear" };

export const START: Place = {
  view: "all",
  sort: "date",
  groups: [],
  search: "",
  unfolded: new Set(),
  cursor: "",
  index: 0,
  sub: 0,
  side: "both",
  lines: new Set(),
  entries: new Set(),
};

function toggled(ids: ReadonlySet<number>, some: number[], on: boolean): ReadonlySet<number> {
  const next = new Set(ids);
  for (const id of some) {
    if (on) next.add(id);
    else next.delete(id);
  }
  return next;
}

/** The items of a row that Space selects: those of a question one by one, those of other rows together. */
export function itemsAt(row: Row, sub: number, side: Side): { lines: number[]; entries: number[] } {
  const one = row.kind === "question";
  const pick = (ids: number[]) => (one ? ids.slice(sub, sub + 1) : ids);
  return {
    lines: side === "books" ? [] : pick(row.lines),
    entries: side === "bank" ? [] : pick(row.entries),
  };
}

export function reduce(place: Place, move: Move): Place {
  switch (move.type) {
    case "view":
      return { ...place, view: move.view };
    case "sort":
      return { ...place, sort: move.sort };
    case "groups":
      return { ...place, groups: move.groups };
    case "search":
      return { ...place, search: move.search };
    case "cursor":
      return { ...place, cursor: move.cursor, index: move.index, sub: move.sub, side: "both" };
    case "side":
      return { ...place, side: move.side };
    case "unfold":
      return { ...place, unfolded: new Set([...place.unfolded, ...move.keys]), cursor: move.keys[0] ?? place.cursor };
    case "fold": {
      const unfolded = new Set(place.unfolded);
      for (const key of move.keys) unfolded.delete(key);
      return { ...place, unfolded, cursor: `f${move.keys[0] ?? ""}` };
    }
    case "toggle": {
      const { lines, entries } = itemsAt(move.row, move.sub, move.side);
      const on = lines.some((id) => !place.lines.has(id)) || entries.some((id) => !place.entries.has(id));
      return { ...place, lines: toggled(place.lines, lines, on), entries: toggled(place.entries, entries, on) };
    }
    case "clear":
      return { ...place, lines: new Set(), entries: new Set(), side: "both" };
  }
}

interface Kept {
  view: View;
  sort: Sort;
  groups?: readonly Group[];
  cursor: string;
  unfolded: string[];
}

function keptKey(reconciliationId: number): string {
  return `spine/${reconciliationId}`;
}

export function recall(reconciliationId: number): Place {
  try {
    const kept = JSON.parse(localStorage.getItem(keptKey(reconciliationId)) ?? "null") as Kept | null;
    if (!kept) return START;
    const { view, sort, groups = [], cursor } = kept;
    return { ...START, view, sort, groups, cursor, unfolded: new Set(kept.unfolded) };
  } catch {
    return START;
  }
}

export function keep(reconciliationId: number, place: Place): void {
  const { view, sort, groups, cursor } = place;
  const kept: Kept = { view, sort, groups, cursor, unfolded: [...place.unfolded] };
  localStorage.setItem(keptKey(reconciliationId), JSON.stringify(kept));
}

/** Keeps the place once the person rests, and at the latest when they leave: not at every key. */
export function useKeeping(reconciliationId: number, place: Place): void {
  const latest = useRef(place);
  useEffect(() => {
    latest.current = place;
    const later = setTimeout(() => keep(reconciliationId, place), 250);
    return () => clearTimeout(later);
  }, [reconciliationId, place]);
  useEffect(() => {
    const leave = () => keep(reconciliationId, latest.current);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, [reconciliationId]);
}

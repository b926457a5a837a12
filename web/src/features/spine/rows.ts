import type { Entry, Line, Row, Spine } from "./api";
import { finds, readSearch, type Search } from "./search";

/** The views of the Spine. */
export const VIEWS = [
  "all",
  "to do",
  "proposals",
  "questions",
  "matched",
  "not at the bank",
  "money in",
  "money out",
] as const;
export type View = (typeof VIEWS)[number];

export const SORTS = ["date", "amount", "size", "reference", "text"] as const;
export type Sort = (typeof SORTS)[number];

/** What rows can be grouped by, one within the other. */
export const GROUPS = ["state", "kind", "payee", "reference"] as const;
export type Group = (typeof GROUPS)[number];

/** What the table shows: a row, or a run of matched rows folded to one line. */
export type Shown = { kind: "row"; key: string; row: Row; height: number } | Fold | Heading;

/** The head of a group: what its rows have in common, how many they are, and their sums on both sides. */
export interface Heading {
  kind: "heading";
  key: string;
  level: number;
  label: string;
  count: number;
  bank: number;
  books: number;
  height: 1;
}

export interface Fold {
  kind: "fold";
  key: string;
  rows: Row[];
  from: string;
  to: string;
  bankIn: number;
  bankOut: number;
  booksIn: number;
  booksOut: number;
  height: 1;
}

export interface Wanted {
  view: View;
  sort: Sort;
  search: string;
  groups?: readonly Group[];
  unfolded: ReadonlySet<string>;
}

export interface Items {
  lines: ReadonlyMap<number, Line>;
  entries: ReadonlyMap<number, Entry>;
}

const DECIDED = new Set<Row["kind"]>(["matched", "wash", "ticked", "bank error"]);
/** A run of fewer matched rows than this is not worth folding. */
const FOLD_FROM = 3;

export function isDecided(row: Row): boolean {
  return DECIDED.has(row.kind);
}

/** The last day that is sealed before this reconciliation; "" where nothing is. */
export function sealedTo(spine: Spine): string {
  return spine.before?.sealed ? spine.before.closing_date : "";
}

export function itemsOf(spine: Spine): Items {
  return {
    lines: new Map(spine.lines.map((line) => [line.id, line])),
    entries: new Map(spine.entries.map((entry) => [entry.id, entry])),
  };
}

/** The amount a row stands for: the bank's where there is one. Minor units. */
export function amountOf(row: Row, items: Items): number {
  const bank = row.lines.reduce((sum, id) => sum + (items.lines.get(id)?.amount ?? 0), 0);
  const books = row.entries.reduce((sum, id) => sum + (items.entries.get(id)?.amount ?? 0), 0);
  return row.lines.length ? bank : books;
}

export function inView(row: Row, view: View, items: Items): boolean {
  switch (view) {
    case "all":
      return true;
    case "to do":
      return row.kind === "line" || row.kind === "proposal" || row.kind === "question";
    case "proposals":
      return row.kind === "proposal";
    case "questions":
      return row.kind === "question";
    case "matched":
      return isDecided(row);
    case "not at the bank":
      return row.kind === "outstanding";
    case "money in":
      return amountOf(row, items) > 0;
    case "money out":
      return amountOf(row, items) < 0;
  }
}

function found(row: Row, search: Search, items: Items): boolean {
  if (search.by === "nothing") return true;
  return (
    row.lines.some((id) => {
      const line = items.lines.get(id);
      return line && finds(search, line.amount, `${line.description} ${line.reference} ${line.kind}`, line.date);
    }) ||
    row.entries.some((id) => {
      const entry = items.entries.get(id);
      return entry && finds(search, entry.amount, `${entry.payee} ${entry.memo} ${entry.reference}`, entry.date);
    })
  );
}

function words(row: Row, items: Items, by: "reference" | "text"): string {
  const line = items.lines.get(row.lines[0] ?? -1);
  const entry = items.entries.get(row.entries[0] ?? -1);
  if (by === "reference") return (entry?.reference ?? "") || (line?.reference ?? "");
  return entry ? entry.payee || entry.memo : (line?.description ?? "");
}

function sorted(rows: Row[], sort: Sort, items: Items): Row[] {
  if (sort === "date") return rows;
  const compare = (a: Row, b: Row) =>
    sort === "amount"
      ? amountOf(b, items) - amountOf(a, items)
      : sort === "size"
        ? Math.abs(amountOf(b, items)) - Math.abs(amountOf(a, items))
        : words(a, items, sort).localeCompare(words(b, items, sort), undefined, { numeric: true });
  return [...rows].sort(compare);
}

function fold(run: Row[], items: Items): Fold {
  const sums = { bankIn: 0, bankOut: 0, booksIn: 0, booksOut: 0 };
  for (const row of run) {
    if (row.kind === "wash") continue; // cancels on its own side: no part of what moved
    for (const id of row.lines) {
      const amount = items.lines.get(id)?.amount ?? 0;
      sums[amount > 0 ? "bankIn" : "bankOut"] += amount;
    }
    for (const id of row.entries) {
      const amount = items.entries.get(id)?.amount ?? 0;
      sums[amount > 0 ? "booksIn" : "booksOut"] += amount;
    }
  }
  const first = run[0];
  const days = run.map((row) => row.on).sort();
  return {
    kind: "fold",
    key: `f${first?.key ?? ""}`,
    rows: run,
    from: days[0] ?? "",
    to: days.at(-1) ?? "",
    ...sums,
    height: 1,
  };
}

/** Rows as the table shows them: filtered, sorted, runs of matched rows folded, odd ones left in sight. */
export function shownRows(spine: Spine, items: Items, wanted: Wanted): Shown[] {
  const search = readSearch(wanted.search, spine.account.currency);
  const rows = spine.rows.filter((row) => inView(row, wanted.view, items) && found(row, search, items));
  const folds = search.by === "nothing" && wanted.view !== "matched" && !spine.strip.ticking;
  const ordered = sorted(rows, wanted.sort, items);
  const folded = (some: Row[]) => foldRuns(some, items, folds, wanted.unfolded);
  const groups = wanted.groups ?? [];
  return groups.length ? grouped(ordered, groups, items, folded) : folded(ordered);
}

function foldRuns(rows: Row[], items: Items, folds: boolean, unfolded: ReadonlySet<string>): Shown[] {
  const shown: Shown[] = [];
  let run: Row[] = [];
  const close = () => {
    if (run.length >= FOLD_FROM) shown.push(fold(run, items));
    else shown.push(...run.map(single));
    run = [];
  };
  for (const row of rows) {
    if (folds && isDecided(row) && !row.far && !row.changed && !unfolded.has(row.key)) {
      run.push(row);
    } else {
      close();
      shown.push(single(row));
    }
  }
  close();
  return shown;
}

const STATES: Partial<Record<Row["kind"], string>> = {
  line: "at the bank, not in the books",
  proposal: "proposals",
  question: "questions",
  outstanding: "in the books, not at the bank",
  later: "later periods",
  matched: "matched",
  wash: "washes",
  ticked: "ticked",
  "bank error": "bank errors",
};

/** What a row has in common with the others of its group. */
function labelOf(row: Row, group: Group, items: Items): string {
  const line = items.lines.get(row.lines[0] ?? -1);
  const entry = items.entries.get(row.entries[0] ?? -1);
  switch (group) {
    case "state":
      return STATES[row.kind] ?? row.kind;
    case "kind":
      return line?.kind ?? (amountOf(row, items) > 0 ? "books only, in" : "books only, out");
    case "payee":
      return entry?.payee || lettersOf(line?.description ?? "") || "no payee";
    case "reference":
      return entry?.reference || line?.reference || "no reference";
  }
}

/** A bank text without its numbers, so that the same text of two days stands together. */
function lettersOf(text: string): string {
  return (text.match(/\p{L}{2,}/gu) ?? []).join(" ");
}

/** Rows under the heads of their groups, in the order of the groups' first rows. */
function grouped(
  rows: Row[],
  groups: readonly Group[],
  items: Items,
  folded: (rows: Row[]) => Shown[],
  level = 0,
  path = "",
): Shown[] {
  const [first, ...rest] = groups;
  if (!first) return folded(rows);
  const parts = new Map<string, Row[]>();
  for (const row of rows) {
    const label = labelOf(row, first, items);
    parts.set(label, [...(parts.get(label) ?? []), row]);
  }
  return [...parts].flatMap(([label, part]) => {
    const key = `g${path}/${label}`;
    const sum = (ids: (row: Row) => number[], of: ReadonlyMap<number, { amount: number }>) =>
      part.reduce((total, row) => total + ids(row).reduce((all, id) => all + (of.get(id)?.amount ?? 0), 0), 0);
    const heading: Heading = {
      kind: "heading",
      key,
      level,
      label,
      count: part.length,
      bank: sum((row) => row.lines, items.lines),
      books: sum((row) => row.entries, items.entries),
      height: 1,
    };
    return [heading, ...grouped(part, rest, items, folded, level + 1, `${path}/${label}`)];
  });
}

function single(row: Row): Shown {
  return { kind: "row", key: row.key, row, height: Math.max(1, row.lines.length, row.entries.length) };
}

export function viewCounts(spine: Spine, items: Items): Record<View, number> {
  const counts = Object.fromEntries(VIEWS.map((view) => [view, 0])) as Record<View, number>;
  for (const row of spine.rows) for (const view of VIEWS) if (inView(row, view, items)) counts[view] += 1;
  return counts;
}

/** Whether one entry's amount can be set right to the bank's: one line, one entry, and no fee taken on the way. */
export function isCorrectable(row: Row): boolean {
  const { proposal, lines, entries } = row;
  return (
    !!proposal &&
    proposal.difference !== 0 &&
    proposal.kind !== "net of fee" &&
    lines.length === 1 &&
    entries.length === 1
  );
}

/** What Enter answers to a question: equal counts in date order, else the entry pointed at with its line. */
export function answerOf(row: Row, sub: number): { line: number; entry: number }[] {
  if (row.lines.length === row.entries.length) {
    return row.lines.map((line, n) => ({ line, entry: row.entries[n] ?? 0 }));
  }
  const line = row.lines[Math.min(sub, row.lines.length - 1)] ?? 0;
  return [{ line, entry: row.entries[Math.min(sub, row.entries.length - 1)] ?? 0 }];
}

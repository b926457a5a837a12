import { describe, expect, it } from "vitest";

import type { Row, Spine } from "./api";
import { itemsOf, shownRows, type Group, type Wanted } from "./rows";
import { finds, readSearch } from "./search";
import { itemsAt, reduce, START } from "./state";

function row(kind: Row["kind"], line: number, more: Partial<Row> = {}): Row {
  const key = `l${line}`;
  return {
    key,
    kind,
    on: `2026-10-${String(line).padStart(2, "0")}`,
    lines: [line],
    entries: [],
    days: null,
    far: false,
    changed: false,
    ...more,
  };
}

function spine(rows: Row[]): Spine {
  const lines = rows.flatMap((r) =>
    r.lines.map((id) => ({
      id,
      statement_id: 1,
      date: r.on,
      amount: id % 2 ? id * 100 : -id * 100,
      reference: "",
      description: `line ${id}`,
      kind: "other",
    })),
  );
  return { rows, lines, entries: [], account: { currency: "USD" }, strip: { ticking: false } } as unknown as Spine;
}

const ALL: Wanted = { view: "all", sort: "date", search: "", unfolded: new Set() };

describe("folding", () => {
  const work = spine([row("matched", 1), row("matched", 2), row("matched", 3), row("line", 4), row("matched", 5)]);

  it("folds a run of matched rows and keeps its sums", () => {
    const shown = shownRows(work, itemsOf(work), ALL);
    expect(shown.map((s) => s.kind)).toEqual(["fold", "row", "row"]);
    expect(shown[0]).toMatchObject({ bankIn: 400, bankOut: -200, from: "2026-10-01", to: "2026-10-03" });
  });

  it("leaves a match far apart in sight", () => {
    const odd = spine([row("matched", 1), row("matched", 2, { far: true }), row("matched", 3), row("matched", 4)]);
    expect(shownRows(odd, itemsOf(odd), ALL).every((s) => s.kind === "row")).toBe(true);
  });

  it("shows what was unfolded, and every row while searching", () => {
    const unfolded = { ...ALL, unfolded: new Set(["l1", "l2", "l3"]) };
    expect(shownRows(work, itemsOf(work), unfolded)).toHaveLength(5);
    expect(shownRows(work, itemsOf(work), { ...ALL, search: "line 2" }).map((s) => s.key)).toEqual(["l2"]);
  });

  it("sorts by size regardless of sign", () => {
    const open = spine([row("line", 1), row("line", 4), row("line", 3)]);
    expect(shownRows(open, itemsOf(open), { ...ALL, sort: "size" }).map((s) => s.key)).toEqual(["l4", "l3", "l1"]);
    expect(shownRows(open, itemsOf(open), { ...ALL, sort: "amount" }).map((s) => s.key)).toEqual(["l3", "l1", "l4"]);
  });

  it("groups by one thing and by two, with the sums of each group", () => {
    const open = spine([row("line", 1), row("proposal", 2), row("line", 3)]);
    const by = (...groups: Group[]) => shownRows(open, itemsOf(open), { ...ALL, groups });
    expect(by("state").map((s) => s.key)).toEqual(["g/at the bank, not in the books", "l1", "l3", "g/proposals", "l2"]);
    expect(by("state")[0]).toMatchObject({ count: 2, bank: 400, books: 0, level: 0 });
    expect(by("kind", "state").filter((s) => s.kind === "heading")).toMatchObject([
      { label: "other", level: 0, count: 3 },
      { level: 1, count: 2 },
      { level: 1, count: 1 },
    ]);
  });
});

describe("search", () => {
  it("reads amounts, ranges and text", () => {
    const hits = (typed: string, amount: number, words = "") =>
      finds(readSearch(typed, "USD"), amount, words, "2026-10-09");
    expect(hits("48.30", -4830)).toBe(true);
    expect(hits("=48", 4800)).toBe(true);
    expect(hits(">100", 10000)).toBe(false);
    expect(hits(">100", -10001)).toBe(true);
    expect(hits("100..200", 15000)).toBe(true);
    expect(hits("100..200", 20001)).toBe(false);
    expect(hits("2291", 5, "Check 2291")).toBe(true);
    expect(hits("<=2026-10-09", 5)).toBe(true);
    expect(hits("<= 2026-10-08", 5)).toBe(false);
  });
});

describe("selection", () => {
  const question = row("question", 1, { lines: [1, 2], entries: [7, 8] });

  it("takes the items of a question one by one, by side", () => {
    expect(itemsAt(question, 1, "both")).toEqual({ lines: [2], entries: [8] });
    expect(itemsAt(question, 1, "books")).toEqual({ lines: [], entries: [8] });
  });

  it("selects and clears again", () => {
    const once = reduce(START, { type: "toggle", row: question, sub: 0, side: "both" });
    expect([...once.lines, ...once.entries]).toEqual([1, 7]);
    const twice = reduce(once, { type: "toggle", row: question, sub: 0, side: "both" });
    expect(twice.lines.size + twice.entries.size).toBe(0);
  });
});

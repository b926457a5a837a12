import { expect, test } from "vitest";

import { ageing, type Item } from "./outstanding";

const item = (days: number, amount: number): Item => ({
  id: days,
  date: "2026-10-01",
  amount,
  reference: "",
  payee: "",
  memo: "",
  kind: "check",
  days,
  stale: false,
  slow: false,
  listed_since: null,
  notes: [],
  reversed: false,
});

test("every item stands in exactly one step of the ageing, in and out apart", () => {
  const items = [
    item(0, 5),
    item(30, -7),
    item(31, -1),
    item(60, 2),
    item(61, 4),
    item(90, 8),
    item(180, -9),
    item(181, -3),
  ];
  const steps = ageing(items);
  expect(steps.map(({ from, to, came, went, count }) => [from, to, came, went, count])).toEqual([
    [0, 30, 5, -7, 2],
    [31, 60, 2, -1, 2],
    [61, 90, 12, 0, 2],
    [91, 180, 0, -9, 1],
    [181, null, 0, -3, 1],
  ]);
});

import { describe, expect, it } from "vitest";

import { EMPTY_PART, parseShare, partsGiven, sharesIn } from "./parts";

describe("parts of a split", () => {
  it("reads amounts, percentages and what is left, with the sign of the line", () => {
    const typed = [
      { ...EMPTY_PART, account: 1, size: "40.00", tags: "slip  boat" },
      { ...EMPTY_PART, account: 2, size: "12.5 %" },
      { ...EMPTY_PART, account: 3 },
    ];
    expect(partsGiven(typed, -10_000, "USD")).toMatchObject([
      { gl_account_id: 1, amount: -4000, share: null, tags: ["slip", "boat"] },
      { gl_account_id: 2, amount: null, share: 1250 },
      { gl_account_id: 3, amount: null, share: null },
    ]);
  });

  it("takes nothing while an account or a number is missing", () => {
    expect(partsGiven([{ ...EMPTY_PART, size: "5" }], -100, "USD")).toBeNull();
    expect(partsGiven([{ ...EMPTY_PART, account: 1, size: "x" }], -100, "USD")).toBeNull();
    expect(parseShare("101 %")).toBeNull();
    expect(parseShare("0 %")).toBeNull();
    expect(parseShare("33.33%")).toBe(3333);
  });

  it("makes shares for a rule that come to a hundred percent", () => {
    const parts = [
      { ...EMPTY_PART, account: 1, size: "33.33" },
      { ...EMPTY_PART, account: 2 },
    ];
    const shares = sharesIn(partsGiven(parts, -10_000, "USD") ?? [], -10_000);
    expect(shares.map((share) => share.share)).toEqual([3333, 6667]);
  });
});

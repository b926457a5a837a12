import { describe, expect, it } from "vitest";

import { money, parseMoney, plain } from "./money";

describe("money", () => {
  it("writes minor units exactly, whatever their size", () => {
    expect(plain(-148000, "USD")).toBe("-1480.00");
    expect(plain(5, "KWD")).toBe("0.005");
    expect(plain(1234, "JPY")).toBe("1234");
    expect(money(-123456789012345, "USD", "en-US")).toBe("−1,234,567,890,123.45");
  });

  it("reads back what it writes", () => {
    for (const amount of [0, 1, -1, 99, 100, -148000, 123456789]) {
      expect(parseMoney(money(amount, "USD", "en-US"), "USD")).toBe(amount);
    }
  });

  it("refuses what is no amount of the currency", () => {
    for (const text of ["", "1.234", "NaN", "1e3", "1,23", "12,34.00", "--1", "1.2.3"]) {
      expect(parseMoney(text, "USD")).toBeNull();
    }
  });
});

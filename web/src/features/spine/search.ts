import { parseMoney } from "../../format/money";

/** What a person searches for: text, an amount, or a range of amounts. Amounts are compared without their sign. */
export type Search =
  | { by: "nothing" }
  | { by: "text"; text: string }
  | { by: "amount"; least: number; most: number }
  | { by: "day"; until: string };

/** Reads `text`, `48.30`, `=48.30`, `>100`, `<20`, `100..200` and `<=2026-10-15`. A bare amount also finds references. */
export function readSearch(typed: string, currency: string): Search {
  const text = typed.trim();
  if (!text) return { by: "nothing" };
  const until = /^<=?\s*(\d{4}-\d{2}-\d{2})$/.exec(text);
  if (until) return { by: "day", until: until[1] ?? "" };
  const range = /^([^.]+(?:\.\d+)?)\.\.(.+)$/.exec(text);
  if (range) {
    const least = parseMoney(range[1] ?? "", currency);
    const most = parseMoney(range[2] ?? "", currency);
    if (least !== null && most !== null) return { by: "amount", least, most };
  }
  const amount = parseMoney(text.replace(/^[=<>]/, ""), currency);
  if (amount !== null) {
    const size = Math.abs(amount);
    if (text.startsWith(">")) return { by: "amount", least: size + 1, most: Number.MAX_SAFE_INTEGER };
    if (text.startsWith("<")) return { by: "amount", least: 0, most: size - 1 };
    if (text.startsWith("=") || text.includes(".")) return { by: "amount", least: size, most: size };
  }
  return { by: "text", text: text.toLowerCase() };
}

export function finds(search: Search, amount: number, words: string, day: string): boolean {
  switch (search.by) {
    case "nothing":
      return true;
    case "amount":
      return Math.abs(amount) >= search.least && Math.abs(amount) <= search.most;
    case "day":
      return day <= search.until;
    case "text":
      return words.toLowerCase().includes(search.text);
  }
}

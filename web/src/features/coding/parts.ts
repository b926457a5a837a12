import { parseMoney } from "../../format/money";
import type { Row } from "../spine/api";
import type { PartGiven, RuleValues } from "./coding";

/** A part of a split as it is typed. */
export interface PartTyped {
  account: number | null;
  /** An amount, or a percentage with its sign; empty for what is left. */
  size: string;
  tax: number | null;
  onTop: boolean;
  department: number | null;
  tags: string;
}

export const EMPTY_PART: PartTyped = {
  account: null,
  size: "",
  tax: null,
  onTop: false,
  department: null,
  tags: "",
};

/** The parts that a suggestion would make. */
export function partsOf(suggestion: Row["suggestion"]): PartTyped[] {
  if (!suggestion) return [EMPTY_PART];
  const { shares } = suggestion;
  return shares.map((share) => ({
    ...EMPTY_PART,
    account: share.gl_account_id,
    size: shares.length === 1 ? "" : `${share.share / 100} %`,
    tax: share.tax_code_id,
    department: share.department_id,
    tags: share.tags.join(" "),
  }));
}

/** A share in hundredths of a percent; null where the text is no percentage. */
export function parseShare(text: string): number | null {
  const found = /^(\d{1,3})(?:[.,](\d{1,2}))?\s*%$/.exec(text.trim());
  if (!found) return null;
  const share = Number(found[1]) * 100 + Number((found[2] ?? "").padEnd(2, "0"));
  return share > 0 && share <= 10_000 ? share : null;
}

/** Typed parts as the server takes them, amounts with the sign of the line; null while one cannot be read. */
export function partsGiven(parts: PartTyped[], total: number, currency: string): PartGiven[] | null {
  const found: PartGiven[] = [];
  for (const part of parts) {
    if (part.account === null) return null;
    const size = part.size.trim();
    const share = size ? parseShare(size) : null;
    const amount = size && share === null ? parseMoney(size, currency) : null;
    if (size && share === null && amount === null) return null;
    found.push({
      gl_account_id: part.account,
      amount: amount === null ? null : total < 0 ? -Math.abs(amount) : Math.abs(amount),
      share,
      tax_code_id: part.tax,
      on_top: part.onTop && amount !== null,
      department_id: part.department,
      tags: part.tags.split(/\s+/).filter(Boolean),
      memo: "",
    });
  }
  return found;
}

/** The parts of one line as shares for a rule: amounts in proportion, what is left with the part that takes it. */
export function sharesIn(parts: PartGiven[], total: number): RuleValues["shares"] {
  const told = parts.map(
    (part) => part.share ?? (part.amount == null ? null : Math.round((10_000 * part.amount) / total)),
  );
  const left = 10_000 - told.reduce<number>((sum, share) => sum + (share ?? 0), 0);
  return parts.map((part, n) => ({
    gl_account_id: part.gl_account_id,
    share: Math.max(1, told[n] ?? left),
    tax_code_id: part.tax_code_id ?? null,
    department_id: part.department_id ?? null,
    tags: part.tags,
  }));
}

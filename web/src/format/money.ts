/** Amounts are integers of minor units everywhere; only here do they become text, and text becomes them. */

import { DIGITS } from "./digits.gen";

/** Decimals of a currency (ISO 4217); the server refuses an amount that has more. */
export function digitsOf(currency: string): number {
  return DIGITS[currency] ?? 2;
}

/** A plain decimal of minor units, exact: "-1480.00". */
export function plain(amount: number, currency: string): string {
  const digits = digitsOf(currency);
  const text = Math.abs(amount)
    .toString()
    .padStart(digits + 1, "0");
  const whole = digits ? text.slice(0, -digits) : text;
  const sign = amount < 0 ? "-" : "";
  return digits ? `${sign}${whole}.${text.slice(-digits)}` : `${sign}${whole}`;
}

const formatters = new Map<string, Intl.NumberFormat>();

/** Grouped as the company writes, with a true minus sign. Intl formats decimal strings exactly. */
export function money(amount: number, currency: string, locale: string): string {
  const digits = digitsOf(currency);
  const key = `${locale}/${digits}`;
  let format = formatters.get(key);
  if (!format) {
    format = new Intl.NumberFormat(locale, { minimumFractionDigits: digits, maximumFractionDigits: digits });
    formatters.set(key, format);
  }
  return format.format(plain(amount, currency) as `${number}`).replace("-", "−");
}

/** What a person typed, as minor units; null when it is no amount of this currency. */
export function parseMoney(text: string, currency: string): number | null {
  const digits = digitsOf(currency);
  const found = /^([+\-−]?)(\d{1,3}(?:,\d{3})+|\d+)(?:\.(\d*))?$/.exec(text.trim());
  if (!found) return null;
  const [, sign, whole = "", part = ""] = found;
  if (part.length > digits) return null;
  const minor = Number(whole.replaceAll(",", "") + part.padEnd(digits, "0"));
  if (!Number.isSafeInteger(minor) || minor > 1e13) return null;
  return sign === "-" || sign === "−" ? -minor : minor;
}

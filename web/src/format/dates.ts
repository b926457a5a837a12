/** Dates are ISO days ("2026-10-31") without a time zone; shown with the month in letters. */

function asDate(iso: string): Date {
  return new Date(`${iso}T00:00:00Z`);
}

const cache = new Map<string, Intl.DateTimeFormat>();

function format(locale: string, name: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${locale}/${name}`;
  let found = cache.get(key);
  if (!found) {
    found = new Intl.DateTimeFormat(locale, { timeZone: "UTC", ...options });
    cache.set(key, found);
  }
  return found;
}

/** "Oct 31, 2026" */
export function longDay(iso: string, locale: string): string {
  return format(locale, "long", { year: "numeric", month: "short", day: "numeric" }).format(asDate(iso));
}

/** "Oct 31", with the year where it differs from the period's. */
export function shortDay(iso: string, locale: string, year?: string): string {
  if (year && !iso.startsWith(year)) {
    return format(locale, "short-year", { year: "2-digit", month: "short", day: "2-digit" }).format(asDate(iso));
  }
  return format(locale, "short", { month: "short", day: "2-digit" }).format(asDate(iso));
}

/** "October 2026", from "2026-10". */
export function monthName(month: string, locale: string): string {
  return format(locale, "month", { year: "numeric", month: "long" }).format(asDate(`${month}-01`));
}

/** "Oct", from "2026-10". */
export function shortMonth(month: string, locale: string): string {
  return format(locale, "short-month", { month: "short" }).format(asDate(`${month}-01`));
}

/** "Nov 2, 2026, 2:05 PM" in the reader's own time. */
export function moment(iso: string, locale: string): string {
  return new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short" }).format(new Date(iso));
}

/** "1 line", "3 lines", "2 entries". */
export function counted(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}

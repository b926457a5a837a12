import { useState } from "react";

import type { Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted, longDay, shortDay } from "../../format/dates";
import { money, parseMoney, plain } from "../../format/money";
import { Field } from "../../ui/controls";
import type { HeadGiven, Reading } from "./statements";

const FORMATS: Record<string, string> = {
  ofx: "OFX",
  "camt.053": "camt.053",
  mt940: "MT940",
  bai2: "BAI2",
  csv: "plain table (CSV)",
  delimited: "table (delimited text)",
  xlsx: "table (XLSX)",
  pdf: "PDF",
};

/** Format, bank, account, period, balances, footing, and what went before. */
export function Understood({ found, place }: { found: Reading; place: Place }) {
  const { locale } = useCompany(place.companyId);
  const write = (amount: number) => money(amount, found.currency, locale);
  const foots =
    found.foots === null
      ? found.opening_derived
        ? "cannot be told: the file states no opening, so it is worked out from the closing"
        : "cannot be told: a balance is missing"
      : found.foots
        ? "yes: opening and lines make the closing"
        : "no";
  const rows: [string, string, boolean][] = [
    ["Format", FORMATS[found.format] ?? found.format, false],
    ["Bank", found.bank || place.account.bank, false],
    ["Account", found.account || `not named; taken as ${place.account.number}`, false],
    ["Period", `${longDay(found.start, locale)} – ${longDay(found.end, locale)}`, false],
    [
      found.opening_derived && found.opening !== null ? "Opening, worked out" : "Opening",
      found.opening === null ? "none" : write(found.opening),
      true,
    ],
    [`In, ${counted(found.count_in, "line")}`, write(found.total_in), true],
    [`Out, ${counted(found.count_out, "line")}`, write(found.total_out), true],
    ["Closing", found.closing === null ? "none" : write(found.closing), true],
    ["Foots", foots, false],
    ["Continues", continues(found, write, locale), false],
    ["Known already", `${found.line_count - found.new_count} of ${found.line_count} lines`, false],
    [
      "Goes to",
      `the reconciliation to ${longDay(found.closes, locale)}${found.joins_open ? ", already open" : ", opened with it"}`,
      false,
    ],
  ];
  return (
    <dl className="grid grid-cols-[8.5rem_1fr] gap-y-1.5">
      {rows.map(([name, value, figure]) => (
        <div key={name} className="contents">
          <dt className="text-muted">{name}</dt>
          <dd className={figure ? "figure text-right" : "text-right"}>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Whether the opening is the balance that went before. */
function continues(found: Reading, write: (amount: number) => string, locale: string): string {
  if (found.opening === null || found.before_closing === null) return "cannot be told";
  const before = `the closing of ${longDay(found.before_end, locale)}, ${write(found.before_closing)}`;
  return found.opening === found.before_closing ? `from ${before}` : `does not: ${before}`;
}

interface GivenProps {
  found: Reading;
  given: HeadGiven;
  currency: string;
  onChange: (given: HeadGiven) => void;
}

/** Asked only for what the file does not state. */
export function Given({ found, given, currency, onChange }: GivenProps) {
  const [closing, setClosing] = useState(given.closing === null ? "" : plain(given.closing, currency));
  const [asked] = useState({ closing: found.closing === null, dates: !found.dates_stated });
  if (!asked.closing && !asked.dates) return null;
  const amount = parseMoney(closing, currency);
  return (
    <div className="grid grid-cols-2 gap-3 rounded-md border border-line bg-paper p-3">
      <p className="col-span-2">The file does not state this. From the bank's own page or paper:</p>
      {asked.dates && (
        <>
          <Field
            label="First day"
            type="date"
            defaultValue={found.start}
            onChange={(event) => onChange({ ...given, start: event.target.value || null, end: given.end ?? found.end })}
          />
          <Field
            label="Last day"
            type="date"
            defaultValue={found.end}
            onChange={(event) =>
              onChange({ ...given, end: event.target.value || null, start: given.start ?? found.start })
            }
          />
        </>
      )}
      {asked.closing && (
        <Field
          label="Closing balance"
          figure
          className="col-span-2"
          value={closing}
          error={closing && amount === null ? `is no amount in ${currency}` : undefined}
          onChange={(event) => {
            setClosing(event.target.value);
            onChange({ ...given, closing: parseMoney(event.target.value, currency) });
          }}
        />
      )}
    </div>
  );
}

/** The lines of the file; those known already are marked. */
export function Lines({ found, place }: { found: Reading; place: Place }) {
  const { locale } = useCompany(place.companyId);
  return (
    <section className="min-h-0 flex-1 overflow-auto" aria-label="Lines of the statement" tabIndex={0}>
      <table className="w-full border-collapse">
        <thead className="sticky top-0 bg-paper text-left text-xs text-muted">
          <tr className="border-b border-line">
            <th className="w-20 py-2 pl-5 font-normal">Date</th>
            <th className="font-normal">Text</th>
            <th className="w-32 font-normal">Reference</th>
            <th className="w-28 font-normal">Kind</th>
            <th className="w-32 text-right font-normal">Amount</th>
            <th className="w-24 pr-5 pl-4 font-normal"></th>
          </tr>
        </thead>
        <tbody className="bg-sheet">
          {found.lines.map((line) => (
            <tr key={line.position} className={`h-7 border-b border-hair ${line.known ? "text-muted" : ""}`}>
              <td className="pl-5 whitespace-nowrap">{shortDay(line.date, locale)}</td>
              <td>{line.description}</td>
              <td className="figure text-xs">{line.reference}</td>
              <td className="text-muted">{line.kind}</td>
              <td className="figure text-right">{money(line.amount, found.currency, locale)}</td>
              <td className="pr-5 pl-4 text-xs">{line.known ? "known" : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.line_count > found.lines.length && (
        <p className="p-4 text-muted">… and {found.line_count - found.lines.length} more lines.</p>
      )}
    </section>
  );
}

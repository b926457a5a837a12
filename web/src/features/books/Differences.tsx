import { Empty } from "../../ui/controls";
import { longDay } from "../../format/dates";
import { money } from "../../format/money";
import type { BookImport } from "./books";

type Row = BookImport["rows"][number];
type Values = NonNullable<Row["row"]>;

const WORDS: Record<Row["change"], string> = {
  new: "new",
  same: "known",
  changed: "changed",
  gone: "gone",
  outside: "not in the file",
  returned: "recorded here, come back",
  back: "back again",
  held: "deleted here, left so",
};

/** Heaviest first: what changes sealed periods, what changes a match of the open one, then the rest. */
const GROUPS: { name: string; tells: string; has: (row: Row) => boolean }[] = [
  {
    name: "Sealed periods",
    tells: "each of these moves an opening balance or a sealed list",
    has: (row) => row.touches === "sealed" && row.change !== "outside" && row.change !== "returned",
  },
  {
    name: "Matched in an open period",
    tells: "a match whose amount changes is undone",
    has: (row) => row.touches === "cleared" && row.change !== "outside" && row.change !== "returned",
  },
  {
    name: "Come back",
    tells: "recorded here and exported: recognised, not doubled",
    has: (row) => row.change === "returned",
  },
  {
    name: "Open entries",
    tells: "",
    has: (row) => row.touches === "open" && !["new", "outside", "returned"].includes(row.change),
  },
  { name: "New", tells: "", has: (row) => row.change === "new" },
  { name: "Outside the file's days", tells: "", has: (row) => row.change === "outside" },
];

interface DifferencesProps {
  rows: Row[];
  currency: string;
  locale: string;
}

/** Every difference between a file and the books, listed by what it touches. */
export function Differences({ rows, currency, locale }: DifferencesProps) {
  const write = (amount: number) => money(amount, currency, locale);
  if (!rows.length) return <Empty title="No difference">Everything in the file stands in the books as it is.</Empty>;
  return (
    <section className="overflow-auto px-5 py-4" aria-label="Differences">
      {GROUPS.map(({ name, tells, has }) => {
        const here = rows.filter(has);
        if (!here.length) return null;
        return (
          <div key={name} className="mb-5">
            <h2 className="mb-1 font-bold">
              {name} <span className="font-normal text-muted">· {here.length}</span>
              {tells && <span className="ml-2 font-normal text-muted">{tells}</span>}
            </h2>
            <table className="w-full border-collapse bg-sheet">
              <tbody>
                {here.map((row, n) => (
                  <DifferenceRow key={n} row={row} write={write} locale={locale} />
                ))}
              </tbody>
            </table>
          </div>
        );
      })}
    </section>
  );
}

function DifferenceRow({ row, write, locale }: { row: Row; write: (amount: number) => string; locale: string }) {
  const values = row.row ?? row.known;
  if (!values) return null;
  const shown = (field: string, from: Values) =>
    field === "amount"
      ? write(from.amount)
      : field === "date"
        ? longDay(from.date, locale)
        : from[field as "payee" | "memo" | "reference"] || "empty";
  const { known, row: fresh } = row;
  return (
    <tr className="border-b border-hair align-top">
      <td className="w-24 py-1 pl-3 whitespace-nowrap text-muted">{longDay(values.date, locale)}</td>
      <td className="figure w-20 py-1 text-xs">{values.reference}</td>
      <td className="py-1">
        {values.payee} <span className="text-muted">{values.memo}</span>
        {known && fresh && row.fields.length > 0 && (
          <span className="block text-xs">
            {row.fields.map((field) => (
              <span key={field} className="mr-3">
                {field} was <s>{shown(field, known)}</s> now <b>{shown(field, fresh)}</b>
              </span>
            ))}
          </span>
        )}
        {row.how.startsWith("another") && <span className="block text-xs text-muted">{row.how}</span>}
      </td>
      <td className="figure w-32 py-1 text-right">{write(values.amount)}</td>
      <td className="w-64 py-1 pr-3 pl-5">
        <b>{WORDS[row.change]}</b>
        {row.period && <span className="text-muted">, cleared to {longDay(row.period, locale)}</span>}
        {row.shift !== 0 && row.touches !== "open" && (
          <span className="figure block text-xs text-muted">
            shift {row.shift > 0 ? "+" : ""}
            {write(row.shift)}
          </span>
        )}
      </td>
    </tr>
  );
}

import type { Schemas } from "../../api/client";
import { Select } from "../../ui/controls";

export type TableFound = Schemas["BookTableOut"];

/** What a person has said of a table: which column has which role, how dates and decimals are written. */
export interface Columns {
  by_role: Record<string, string>;
  order: string;
  decimal: string;
}

/** The columns as a form field; null while nothing has been said. */
export function columnsField(columns: Columns | null): string | null {
  return columns && JSON.stringify(columns);
}

const ORDERS = [
  ["", "choose …"],
  ["ymd", "year, month, day"],
  ["dmy", "day, month, year"],
  ["mdy", "month, day, year"],
] as const;
const DECIMALS = [
  ["", "choose …"],
  [".", "a point"],
  [",", "a comma"],
] as const;

interface ColumnsFormProps {
  table: TableFound;
  stated: Columns | null;
  onChange: (columns: Columns) => void;
}

/** Which column is which, with the first rows of the file beside it; what is still open is marked. */
export function ColumnsForm({ table, stated, onChange }: ColumnsFormProps) {
  const now: Columns = stated ?? { by_role: {}, order: "", decimal: "" };
  const open = new Set(table.missing);
  const name = (words: string, role: string) => (open.has(role) ? `${words} · please say` : words);
  return (
    <details
      aria-label="Columns"
      className="rounded-md border border-line bg-paper px-3 py-2"
      open={table.missing.length > 0 || stated !== null}
    >
      <summary className="text-muted">
        {table.missing.length
          ? "Say which column is which before it is compared."
          : "Columns understood; open to change what is wrong."}
      </summary>
      <div className="mt-2 grid grid-cols-2 gap-2">
        {table.roles.map((role) => (
          <Select
            key={role}
            label={name(role.charAt(0).toUpperCase() + role.slice(1), role)}
            value={table.by_role[role] ?? ""}
            options={[["", "not in the file"], ...table.heading.filter(Boolean).map((h) => [h, h] as const)]}
            onChange={(column) => onChange({ ...now, by_role: { ...now.by_role, [role]: column } })}
          />
        ))}
        {table.roles.includes("date") && (
          <Select
            label={name("Dates are", "order")}
            value={table.order}
            options={ORDERS}
            onChange={(order) => onChange({ ...now, order })}
          />
        )}
        {table.roles.includes("amount") && (
          <Select
            label={name("Decimals after", "decimal")}
            value={table.decimal}
            options={DECIMALS}
            onChange={(decimal) => onChange({ ...now, decimal })}
          />
        )}
      </div>
    </details>
  );
}

/** The first rows of a table as they stand in the file. */
export function TableSample({ table }: { table: TableFound }) {
  return (
    <section className="overflow-auto px-5 py-4" aria-label="First rows of the file">
      <h2 className="mb-1 font-bold">The first rows of the file</h2>
      <table className="border-collapse bg-sheet">
        <thead>
          <tr className="border-b border-line text-left text-xs text-muted">
            {table.heading.map((heading, n) => (
              <th key={n} className="px-3 py-1 font-normal">
                {heading}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.sample.map((cells, n) => (
            <tr key={n} className="border-b border-hair">
              {cells.map((cell, place) => (
                <td key={place} className="px-3 py-1 whitespace-nowrap">
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

import { Select } from "../../ui/controls";
import type { Layout, Role, Table } from "./statements";

const ROLE_WORDS: [Role, string][] = [
  ["date", "date"],
  ["value date", "value date"],
  ["text", "text"],
  ["reference", "reference"],
  ["amount", "amount"],
  ["in", "money in"],
  ["out", "money out"],
  ["marker", "in or out marker"],
  ["balance", "running balance"],
  ["id", "bank's id"],
  ["currency", "currency"],
  ["kind", "kind"],
  ["ignore", "not used"],
];
const ORDERS: [string, string][] = [
  ["mdy", "month, day, year"],
  ["dmy", "day, month, year"],
  ["ymd", "year, month, day"],
];
const CHOICE_WORDS: Record<string, string> = {
  mdy: "month first",
  dmy: "day first",
  ymd: "year first",
  ",": "more: it groups thousands",
  ".": "less: it parts decimals",
  in: "money in",
  out: "money out",
};

interface LayoutPanelProps {
  layout: Layout;
  /** What was read with it; absent while it cannot be read yet. */
  table?: Table;
  /** A layout corrected by hand, and the settings that were stated with it. */
  onChange: (layout: Layout, settled: string[]) => void;
  onPoint?: () => void;
}

/** How a table is read: its columns, its dates and amounts; what is open is asked first. */
export function LayoutPanel({ layout, table, onChange, onPoint }: LayoutPanelProps) {
  const set = (part: Partial<Layout>) =>
    onChange(
      { ...layout, ...part },
      Object.keys(part).filter((name) => name !== "roles"),
    );
  const columns = layout.roles.map((_, column) => column);
  const answerTo = (setting: string, choice: string) => {
    if (setting === "flip") set({ flip: choice === "out" });
    else set({ [setting]: choice });
  };
  return (
    <section aria-label="How the table is read" className="border-b border-line bg-paper p-4">
      <div className="mb-2 flex items-baseline gap-3">
        <h2 className="text-base font-bold">How the table is read</h2>
        <p className="text-muted">
          {!table
            ? "Say what each column holds."
            : table.known
              ? "Known from the last time, by its heading."
              : "Found in the file itself. Correct it here; it is kept for this account."}
        </p>
        {onPoint && (
          <button type="button" className="ml-auto font-semibold text-wine" onClick={onPoint}>
            Another row is the heading
          </button>
        )}
      </div>
      {table?.questions.map((question) => (
        <div
          key={question.setting}
          role="group"
          aria-label={question.text}
          className="mb-2 flex items-center gap-2 rounded-md border border-ember/40 bg-ember-soft px-3 py-2"
        >
          <b className="mr-auto">{question.text}</b>
          {question.choices.map((choice) => (
            <button
              key={choice}
              type="button"
              className="min-h-7 rounded-md border border-line bg-sheet px-2.5 font-semibold text-wine hover:border-muted"
              onClick={() => answerTo(question.setting, choice)}
            >
              {CHOICE_WORDS[choice] ?? choice}
            </button>
          ))}
        </div>
      ))}
      <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-1">
        <Select
          inline
          label="Dates"
          value={layout.date_order}
          options={ORDERS}
          onChange={(date_order) => set({ date_order })}
        />
        <Select
          inline
          label="Decimals after a"
          value={layout.decimal}
          options={[
            [".", "point"],
            [",", "comma"],
          ]}
          onChange={(decimal) => set({ decimal })}
        />
        {layout.roles.includes("amount") && !layout.roles.includes("marker") && (
          <Check label="a positive amount is money out" checked={layout.flip} onChange={(flip) => set({ flip })} />
        )}
        {layout.roles.includes("balance") && (
          <Check label="the balance is what is owed" checked={layout.owed} onChange={(owed) => set({ owed })} />
        )}
      </div>
      <div className="overflow-x-auto rounded-md border border-line">
        <table className="w-full border-collapse bg-sheet">
          <thead className="text-left text-xs">
            <tr>
              {columns.map((column) => (
                <th key={column} className="border-b border-line px-2 pt-1.5 pb-1 align-top font-normal">
                  <span className="block font-semibold whitespace-nowrap">
                    {layout.heading[column] || `column ${column + 1}`}
                  </span>
                  <select
                    aria-label={`Column ${layout.heading[column] || column + 1}`}
                    value={layout.roles[column] ?? "ignore"}
                    onChange={(event) =>
                      set({
                        roles: layout.roles.map((role, n) => (n === column ? (event.target.value as Role) : role)),
                      })
                    }
                    className={`mt-0.5 rounded border border-line bg-sheet py-0.5 ${layout.roles[column] === "ignore" ? "text-muted" : "text-wine"}`}
                  >
                    {ROLE_WORDS.map(([role, words]) => (
                      <option key={role} value={role}>
                        {words}
                      </option>
                    ))}
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="font-mono text-xs">
            {table?.rows.slice(0, 5).map((row, n) => (
              <tr key={n} className="border-b border-hair last:border-0">
                {columns.map((column) => (
                  <td key={column} className="px-2 py-1 whitespace-nowrap">
                    {row[column] ?? ""}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

interface CheckProps {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}

function Check({ label, checked, onChange }: CheckProps) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="checkbox"
        className="accent-wine"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}

import type { Schemas } from "../../api/client";
import { AccountChoice } from "../books/AccountChoice";
import type { CodingLists } from "./coding";
import type { PartTyped } from "./parts";

interface PartRowProps {
  part: PartTyped;
  /** Several parts: each shows its size, and can be taken away. */
  split: boolean;
  number: number;
  accounts: Schemas["GlAccountOut"][];
  lists: CodingLists | undefined;
  /** Whether a tax may come on top of an amount; a rule has shares alone. */
  mayTop?: boolean;
  onChange: (part: PartTyped) => void;
  onRemove: () => void;
}

const SMALL = "min-w-0 rounded-md border border-line bg-sheet px-1.5 py-0.5";

/** One part of an amount: its account, its size, and the tax, department and tags that go with it. */
export function PartRow({ part, split, number, accounts, lists, mayTop = false, onChange, onRemove }: PartRowProps) {
  const set = (some: Partial<PartTyped>) => onChange({ ...part, ...some });
  const named = split ? `, part ${number}` : "";
  const choice = (
    label: string,
    value: number | null,
    options: [number, string][],
    choose: (id: number | null) => void,
  ) =>
    options.length > 0 && (
      <select
        aria-label={`${label}${named}`}
        value={value ?? ""}
        onChange={(event) => choose(event.target.value ? Number(event.target.value) : null)}
        className={`${SMALL} flex-1`}
      >
        <option value="">no {label.toLowerCase()}</option>
        {options.map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </select>
    );
  return (
    <div className={split ? "space-y-1 border-l-2 border-line pl-2" : "space-y-1"}>
      <AccountChoice
        label={split ? `Account ${number}` : "Account"}
        accounts={accounts}
        value={part.account}
        onChange={(account) => set({ account })}
      />
      {split && (
        <div className="flex items-center gap-2">
          <input
            aria-label={`Amount or percent ${number}`}
            placeholder="the rest"
            value={part.size}
            onChange={(event) => set({ size: event.target.value })}
            className={`${SMALL} figure w-28 text-right`}
          />
          {mayTop && part.tax !== null && part.size.trim() !== "" && !part.size.includes("%") && (
            <label className="flex items-center gap-1 text-xs whitespace-nowrap">
              <input
                type="checkbox"
                className="accent-wine"
                checked={part.onTop}
                onChange={(event) => set({ onTop: event.target.checked })}
              />
              tax on top
            </label>
          )}
          <button
            type="button"
            aria-label={`Take part ${number} away`}
            className="ml-auto px-1 text-wine"
            onClick={onRemove}
          >
            ×
          </button>
        </div>
      )}
      <div className="flex gap-1">
        {choice(
          "Tax",
          part.tax,
          (lists?.taxes ?? []).map((tax) => [tax.id, `${tax.code} ${tax.rate / 10_000} %`]),
          (tax) => set({ tax }),
        )}
        {choice(
          "Department",
          part.department,
          (lists?.departments ?? []).map((department) => [department.id, department.name]),
          (department) => set({ department }),
        )}
      </div>
    </div>
  );
}

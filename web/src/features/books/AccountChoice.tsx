import type { Schemas } from "../../api/client";

type GlAccount = Schemas["GlAccountOut"];

interface AccountChoiceProps {
  accounts: GlAccount[];
  value: number | null;
  onChange: (account: number | null) => void;
  label?: string;
  none?: string;
}

/** A ledger account, by number and name; typing on it jumps, as on any list. */
export function AccountChoice({ accounts, value, onChange, label = "Account", none = "choose …" }: AccountChoiceProps) {
  return (
    <label className="block">
      <span className="text-xs text-muted">{label}</span>
      <select
        value={value ?? ""}
        onChange={(event) => onChange(event.target.value ? Number(event.target.value) : null)}
        className="mt-0.5 block w-full rounded-md border border-line bg-sheet px-1.5 py-1 text-base"
      >
        <option value="">{none}</option>
        {accounts.map((account) => (
          <option key={account.id} value={account.id}>
            {account.number} {account.name}
          </option>
        ))}
      </select>
    </label>
  );
}

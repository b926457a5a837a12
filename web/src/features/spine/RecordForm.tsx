import { useState, type SyntheticEvent } from "react";

import { Button, Field } from "../../ui/controls";
import { AccountChoice } from "../books/AccountChoice";
import { useGlAccounts } from "../books/books";
import type { Line, Row } from "./api";
import { useWriting } from "./writing";

interface RecordFormProps {
  companyId: number;
  row: Row;
  line: Line;
  busy: boolean;
  onRecord: (account: number, payee: string, memo: string) => void;
}

/** Records a statement line the books lack: date and amount are the line's; the rest is prefilled where it can be. */
export function RecordForm({ companyId, row, line, busy, onRecord }: RecordFormProps) {
  const accounts = useGlAccounts(companyId);
  const [account, setAccount] = useState<number | null>(row.suggestion?.account_id ?? null);
  const [payee, setPayee] = useState(row.suggestion?.payee ?? "");
  const [memo, setMemo] = useState(sentence(line.description));
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    if (account !== null) onRecord(account, payee, memo);
  };
  return (
    <form onSubmit={submit} data-record className="space-y-2 rounded-lg border border-line bg-sheet px-3 py-2.5">
      <h3 className="text-xs font-semibold text-muted">The books lack this: record it</h3>
      <AccountChoice accounts={accounts.data ?? []} value={account} onChange={setAccount} />
      <Field label="Payee" value={payee} onChange={(event) => setPayee(event.target.value)} />
      <Field label="Memo" value={memo} onChange={(event) => setMemo(event.target.value)} />
      <Button weight="main" type="submit" shortcut="Enter" className="w-full" disabled={busy || account === null}>
        Record and match
      </Button>
    </form>
  );
}

interface AdjustFormProps {
  companyId: number;
  fee: boolean;
  amount: number;
  payee: string;
  busy: boolean;
  onAdjust: (account: number, payee: string, memo: string) => void;
}

/** Posts the difference of a near pair as an entry of its own, matched along: nothing is parked. */
export function AdjustForm({ companyId, fee, amount, payee, busy, onAdjust }: AdjustFormProps) {
  const write = useWriting();
  const accounts = useGlAccounts(companyId);
  const [account, setAccount] = useState<number | null>(null);
  const [memo, setMemo] = useState(fee ? "Fee taken from the takings" : "Adjustment to the bank's amount");
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    if (account !== null) onAdjust(account, payee, memo);
  };
  return (
    <form onSubmit={submit} data-adjust className="space-y-2 rounded-lg border border-line bg-sheet px-3 py-2.5">
      <h3 className="text-xs font-semibold text-muted">
        {fee ? "Record the fee and match" : "Or post the difference and match"}
      </h3>
      <AccountChoice accounts={accounts.data ?? []} value={account} onChange={setAccount} />
      <Field label="Memo" value={memo} onChange={(event) => setMemo(event.target.value)} />
      <Button
        weight={fee ? "main" : "plain"}
        type="submit"
        shortcut="A"
        className="w-full"
        disabled={busy || account === null}
      >
        Post {write.amount(amount)} and match
      </Button>
    </form>
  );
}

/** "SERVICE CHARGE" as a person writes it. */
function sentence(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1).toLowerCase();
}

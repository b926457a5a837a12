import { useState, type SyntheticEvent } from "react";

import type { Account } from "../../app/places";
import { parseMoney, plain } from "../../format/money";
import { Button, Field, Select, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useGlAccounts } from "../books/books";
import { useSetup, useStart, type Start } from "./setup";
import { Buttons } from "./SetupPage";

interface StartDialogProps {
  companyId: number;
  account: Account;
  onClose: () => void;
}

/** How an account starts: date, balance, and what was outstanding then; correctable while nothing is sealed. */
export function StartDialog({ companyId, account, onClose }: StartDialogProps) {
  const start = useStart(companyId, account.id);
  return (
    <Dialog title={`How ${account.name} starts`} open wide onClose={onClose}>
      {start.error && <Trouble>{start.error.message}</Trouble>}
      {start.data && <StartForm companyId={companyId} account={account} start={start.data} onClose={onClose} />}
    </Dialog>
  );
}

interface Item {
  id: number | null;
  date: string;
  reference: string;
  payee: string;
  memo: string;
  amount: string;
}

function StartForm({ companyId, account, start, onClose }: StartDialogProps & { start: Start }) {
  const { currency } = account;
  const ledger = useGlAccounts(companyId);
  const setup = useSetup(companyId);
  const [date, setDate] = useState(start.date);
  const [balance, setBalance] = useState(plain(start.balance, currency));
  const [equity, setEquity] = useState(start.equity_account_id === null ? "" : String(start.equity_account_id));
  const [items, setItems] = useState<Item[]>(
    start.outstanding.map((item) => ({
      id: item.id ?? null,
      date: item.date,
      reference: item.reference,
      payee: item.payee,
      memo: item.memo,
      amount: plain(item.amount, currency),
    })),
  );
  const amounts = items.map((item) => parseMoney(item.amount, currency));
  const total = parseMoney(balance, currency);
  const change = (place: number, part: Partial<Item>) =>
    setItems(items.map((item, n) => (n === place ? { ...item, ...part } : item)));
  const wrong = total === null || amounts.includes(null);
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    if (total === null) return;
    const outstanding = items.map((item, n) => ({ ...item, amount: amounts[n] ?? 0 }));
    const body = { date, balance: total, equity_account_id: equity ? Number(equity) : null, outstanding };
    setup.mutate({ set: "start", accountId: account.id, body }, { onSuccess: onClose });
  };
  return (
    <form onSubmit={submit} className="space-y-3">
      <div className="grid grid-cols-3 gap-3">
        <Field
          label="Starts after this day"
          type="date"
          required
          value={date}
          onChange={(event) => setDate(event.target.value)}
        />
        <Field
          label="Statement balance that day"
          figure
          value={balance}
          error={total === null ? `is no amount in ${currency}` : undefined}
          onChange={(event) => setBalance(event.target.value)}
        />
        <Select
          label="Opening balance is posted against"
          value={equity}
          options={[
            ["", "the ledger is kept elsewhere"],
            ...(ledger.data ?? []).map((a): [string, string] => [String(a.id), `${a.number} ${a.name}`]),
          ]}
          onChange={setEquity}
        />
      </div>
      <div className="flex items-center justify-between">
        <h3 className="font-semibold">Outstanding that day: booked, not yet at the bank</h3>
        <Button
          onClick={() => setItems([...items, { id: null, date, reference: "", payee: "", memo: "", amount: "" }])}
        >
          Add an item
        </Button>
      </div>
      {items.map((item, n) => (
        <div key={n} className="grid grid-cols-[9rem_6rem_1fr_8rem_auto] items-end gap-2">
          <Field
            label="Date"
            type="date"
            required
            value={item.date}
            onChange={(event) => change(n, { date: event.target.value })}
          />
          <Field
            label="Reference"
            value={item.reference}
            onChange={(event) => change(n, { reference: event.target.value })}
          />
          <Field label="Payee" value={item.payee} onChange={(event) => change(n, { payee: event.target.value })} />
          <Field
            label="Amount, out with minus"
            figure
            value={item.amount}
            error={item.amount && amounts[n] === null ? "no amount" : undefined}
            onChange={(event) => change(n, { amount: event.target.value })}
          />
          <Button weight="quiet" onClick={() => setItems(items.filter((_, place) => place !== n))}>
            Remove
          </Button>
        </div>
      ))}
      {setup.error && <Trouble>{setup.error.message}</Trouble>}
      <Buttons busy={setup.isPending || wrong} onClose={onClose} />
    </form>
  );
}

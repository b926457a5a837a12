import { useMutation } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";

import { answer, client } from "../../api/client";
import { useCompany } from "../../app/session";
import { money, parseMoney, plain } from "../../format/money";
import { Button, Field, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useRefresh } from "../statements/statements";
import { AccountChoice } from "./AccountChoice";
import { useGlAccounts } from "./books";
import { JOURNAL, type Journal } from "./JournalPage";

interface LineTyped {
  account: number | null;
  debit: string;
  credit: string;
}

const EMPTY: LineTyped = { account: null, debit: "", credit: "" };

/** A general journal entry: its lines, and how far it is out of balance while it is typed. */
export function JournalDialog({
  companyId,
  known,
  onClose,
}: {
  companyId: number;
  known: Journal | undefined;
  onClose: () => void;
}) {
  const { currency, locale } = useCompany(companyId);
  const accounts = useGlAccounts(companyId);
  const refresh = useRefresh();
  const [date, setDate] = useState(known?.date ?? new Date().toISOString().slice(0, 10));
  const [memo, setMemo] = useState(known?.memo ?? "");
  const [lines, setLines] = useState<LineTyped[]>(
    known?.lines.map((line) => ({
      account: line.gl_account_id,
      debit: line.amount > 0 ? plain(line.amount, currency) : "",
      credit: line.amount < 0 ? plain(-line.amount, currency) : "",
    })) ?? [EMPTY, EMPTY],
  );
  const amounts = lines.map(({ debit, credit }) => {
    const [plus, minus] = [
      debit.trim() ? parseMoney(debit, currency) : 0,
      credit.trim() ? parseMoney(credit, currency) : 0,
    ];
    return plus === null || minus === null ? null : plus - minus;
  });
  const off = amounts.reduce<number>((sum, amount) => sum + (amount ?? 0), 0);
  const whole = lines.every(({ account }, n) => account !== null && amounts[n] !== null && amounts[n] !== 0);
  const save = useMutation({
    mutationFn: async () => {
      const body = {
        date,
        memo,
        lines: lines.map(({ account }, n) => ({ gl_account_id: account ?? 0, amount: amounts[n] ?? 0, memo: "" })),
      };
      const path = { company_id: companyId };
      if (known)
        await answer(
          client.PUT(`${JOURNAL}/{journal_id}`, { params: { path: { ...path, journal_id: known.id } }, body }),
        );
      else await answer(client.POST(JOURNAL, { params: { path }, body }));
    },
    onSuccess: async () => {
      await refresh();
      onClose();
    },
  });
  const set = (n: number, some: Partial<LineTyped>) =>
    setLines(lines.map((line, place) => (place === n ? { ...line, ...some } : line)));
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <Dialog title={known ? "Change the journal entry" : "New journal entry"} open wide onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <div className="grid grid-cols-[10rem_1fr] gap-3">
          <Field label="Date" type="date" required value={date} onChange={(event) => setDate(event.target.value)} />
          <Field label="What it is for" required value={memo} onChange={(event) => setMemo(event.target.value)} />
        </div>
        {lines.map((line, n) => (
          <div key={n} className="grid grid-cols-[1fr_8.5rem_8.5rem_1.5rem] items-end gap-2">
            <AccountChoice
              label={`Account ${n + 1}`}
              accounts={accounts.data ?? []}
              value={line.account}
              onChange={(account) => set(n, { account })}
            />
            {(["debit", "credit"] as const).map((side) => (
              <Field
                key={side}
                figure
                label={side === "debit" ? "Debit in the books" : "Credit in the books"}
                value={line[side]}
                onChange={(event) => set(n, { [side]: event.target.value })}
              />
            ))}
            <button
              type="button"
              aria-label={`Take line ${n + 1} away`}
              className="pb-1.5 text-wine disabled:opacity-40"
              disabled={lines.length <= 2}
              onClick={() => setLines(lines.filter((_, place) => place !== n))}
            >
              ×
            </button>
          </div>
        ))}
        <div className="flex items-center gap-3">
          <Button weight="quiet" onClick={() => setLines([...lines, EMPTY])}>
            Another line
          </Button>
          <span className={`ml-auto ${off ? "text-ember" : "text-muted"}`}>
            {off ? (
              <>
                out of balance by <b className="figure">{money(Math.abs(off), currency, locale)}</b>
              </>
            ) : (
              "in balance"
            )}
          </span>
        </div>
        {save.error && <Trouble>{save.error.message}</Trouble>}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" type="submit" disabled={save.isPending || off !== 0 || !whole || !memo.trim()}>
            Post
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

import { useMutation } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";

import type { Schemas } from "../../api/client";
import type { Place } from "../../app/places";
import { parseMoney, plain } from "../../format/money";
import { Button, Field, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useRefresh } from "../statements/statements";
import { AccountChoice } from "./AccountChoice";
import { addEntry, editEntry, removeEntry, useEntry, useGlAccounts } from "./books";

interface EntryDialogProps {
  place: Place;
  entryId?: number | undefined;
  onClose: () => void;
}

/** Adds an entry, or changes one that is not cleared; its journal entry goes with it. */
export function EntryDialog({ place, entryId, onClose }: EntryDialogProps) {
  const entry = useEntry(place.companyId, entryId);
  if (entryId !== undefined && !entry.data) return null;
  return <EntryForm place={place} known={entry.data} onClose={onClose} />;
}

interface EntryFormProps {
  place: Place;
  known: Schemas["EntryDetailOut"] | undefined;
  onClose: () => void;
}

function EntryForm({ place, known, onClose }: EntryFormProps) {
  const { currency } = place.account;
  const accounts = useGlAccounts(place.companyId);
  const refresh = useRefresh();
  const [values, setValues] = useState({
    date: known?.date ?? "",
    reference: known?.reference ?? "",
    payee: known?.payee ?? "",
    memo: known?.memo ?? "",
  });
  const [amount, setAmount] = useState(known ? plain(known.amount, currency) : "");
  const [other, setOther] = useState<number | null>(known?.other_account_id ?? null);
  const minor = parseMoney(amount, currency);
  const elsewhere = known !== undefined && known.journal_id === null;
  const done = async () => {
    await refresh();
    onClose();
  };
  const save = useMutation({
    mutationFn: async () => {
      const body = { ...values, amount: minor ?? 0, other_account_id: other };
      await (known ? editEntry(place, known.id, body, known.revision) : addEntry(place, body));
    },
    onSuccess: done,
  });
  const remove = useMutation({ mutationFn: () => removeEntry(place, known?.id ?? 0), onSuccess: done });
  const error = save.error ?? remove.error;
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    save.mutate();
  };
  const field = (name: keyof typeof values, label: string, type = "text") => (
    <Field
      label={label}
      type={type}
      required={name === "date"}
      value={values[name]}
      onChange={(event) => setValues({ ...values, [name]: event.target.value })}
    />
  );
  return (
    <Dialog title={known ? "Change the entry" : "New entry"} open onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <div className="grid grid-cols-2 gap-3">
          {field("date", "Date", "date")}
          <Field
            label={`Amount in ${currency}, out with a minus`}
            figure
            required
            value={amount}
            error={amount && minor === null ? `is no amount in ${currency}` : undefined}
            onChange={(event) => setAmount(event.target.value)}
          />
          {field("reference", "Reference")}
          {field("payee", "Payee")}
        </div>
        {field("memo", "Memo")}
        {elsewhere ? (
          <p className="text-muted">This entry came without a journal: its ledger is kept elsewhere.</p>
        ) : (
          <AccountChoice label="Other account" accounts={accounts.data ?? []} value={other} onChange={setOther} />
        )}
        {error && <Trouble>{error.message}</Trouble>}
        <div className="flex gap-2">
          {known && (
            <Button weight="quiet" className="mr-auto" onClick={() => remove.mutate()}>
              Delete
            </Button>
          )}
          <Button className="ml-auto" onClick={onClose}>
            Cancel
          </Button>
          <Button
            weight="main"
            type="submit"
            disabled={save.isPending || minor === null || (!elsewhere && other === null)}
          >
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

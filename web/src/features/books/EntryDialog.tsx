import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";

import { answer, client, type Schemas } from "../../api/client";
import { useBoard, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { parseMoney, plain } from "../../format/money";
import { Button, Field, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useCodingLists } from "../coding/coding";
import { PartRow } from "../coding/PartRow";
import { EMPTY_PART, partsGiven, type PartTyped } from "../coding/parts";
import { useRefresh } from "../statements/statements";
import { AccountChoice } from "./AccountChoice";
import { addEntry, editEntry, moveEntry, removeEntry, useEntry, useGlAccounts } from "./books";

interface EntryDialogProps {
  place: Place;
  entryId?: number | undefined;
  onClose: () => void;
}

/** Adds an entry, or changes one; its journal entry goes with it. */
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
  const { rights } = useCompany(place.companyId);
  const accounts = useGlAccounts(place.companyId);
  const lists = useCodingLists(place.companyId);
  const refresh = useRefresh();
  const [values, setValues] = useState({
    date: known?.date ?? "",
    reference: known?.reference ?? "",
    payee: known?.payee ?? "",
    memo: known?.memo ?? "",
  });
  const [amount, setAmount] = useState(known ? plain(known.amount, currency) : "");
  const [other, setOther] = useState<number | null>(known?.other_account_id ?? null);
  const [parts, setParts] = useState<PartTyped[]>([]);
  const [account, setAccount] = useState(place.account.id);
  const [reason, setReason] = useState("");
  const touched = useTouched(place, known?.id, values.date, account);
  const minor = parseMoney(amount, currency);
  const given = parts.length && minor !== null ? partsGiven(parts, minor, currency) : [];
  const elsewhere = known !== undefined && known.journal_id === null;
  const wasSplit = known !== undefined && known.journal.length > 2 && !parts.length;
  const sealed = touched.data?.needs_right ?? false;
  const done = async () => {
    await refresh();
    onClose();
  };
  const save = useMutation({
    mutationFn: async () => {
      const body = { ...values, amount: minor ?? 0, other_account_id: other, parts: given ?? [] };
      if (!known) return addEntry(place, body);
      await editEntry(place, known.id, body, known.revision, reason);
      if (account !== place.account.id) await moveEntry(place, known.id, account, reason);
    },
    onSuccess: done,
  });
  const remove = useMutation({ mutationFn: () => removeEntry(place, known?.id ?? 0, reason), onSuccess: done });
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
  const barred = sealed && (!rights.includes("alter") || !reason.trim());
  const ready = minor !== null && given !== null && (elsewhere || parts.length > 0 || other !== null) && !barred;
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
        {elsewhere && <p className="text-muted">This entry came without a journal: its ledger is kept elsewhere.</p>}
        {!elsewhere && parts.length === 0 && (
          <AccountChoice label="Other account" accounts={accounts.data ?? []} value={other} onChange={setOther} />
        )}
        {wasSplit && <p className="text-xs text-muted">It is split; the split stays, unless it is split anew.</p>}
        {parts.map((part, n) => (
          <PartRow
            key={n}
            part={part}
            split
            number={n + 1}
            accounts={accounts.data ?? []}
            lists={lists.data}
            mayTop
            onChange={(next) => setParts(parts.map((old, place) => (place === n ? next : old)))}
            onRemove={() => setParts(parts.filter((_, place) => place !== n))}
          />
        ))}
        {!elsewhere && (
          <Button
            weight="quiet"
            onClick={() =>
              setParts(parts.length ? [...parts, EMPTY_PART] : [{ ...EMPTY_PART, account: other }, EMPTY_PART])
            }
          >
            {parts.length ? "Another part" : "Split over several accounts"}
          </Button>
        )}
        {known && <BankAccountChoice place={place} value={account} onChange={setAccount} />}
        {known && touched.data && touched.data.texts.length > 0 && (
          <ul className="rounded-md border border-line bg-slate-soft px-3 py-2" aria-label="What this touches">
            {touched.data.texts.map((text) => (
              <li key={text}>{text}</li>
            ))}
            {sealed && !rights.includes("alter") && (
              <li className="text-ember">You do not have the right to alter what is sealed or locked.</li>
            )}
          </ul>
        )}
        {sealed && rights.includes("alter") && (
          <Field
            label="Why something sealed or locked is altered"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        )}
        {error && <Trouble>{error.message}</Trouble>}
        <div className="flex gap-2">
          {known && (
            <Button weight="quiet" className="mr-auto" disabled={barred} onClick={() => remove.mutate()}>
              Delete
            </Button>
          )}
          <Button className="ml-auto" onClick={onClose}>
            Cancel
          </Button>
          <Button weight="main" type="submit" disabled={save.isPending || !ready}>
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** What a change touches beside the entry: other accounts, other periods, sealed ones. */
function useTouched(place: Place, entryId: number | undefined, date: string, account: number) {
  const query = { day: date, to_account: account };
  return useQuery({
    queryKey: ["touches", place.companyId, entryId, query],
    enabled: entryId !== undefined && date !== "",
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/accounts/{account_id}/book/entries/{entry_id}/touches", {
          params: {
            path: { company_id: place.companyId, account_id: place.account.id, entry_id: entryId ?? 0 },
            query,
          },
        }),
      ),
  });
}

interface BankAccountChoiceProps {
  place: Place;
  value: number;
  onChange: (account: number) => void;
}

/** The bank account an entry stands on: an entry on the wrong one is moved. */
function BankAccountChoice({ place, value, onChange }: BankAccountChoiceProps) {
  const board = useBoard();
  const company = board.data?.companies.find(({ id }) => id === place.companyId);
  const fitting = (company?.accounts ?? []).filter(({ account }) => account.currency === place.account.currency);
  if (fitting.length < 2) return null;
  return (
    <label className="block">
      <span className="text-xs text-muted">Bank book</span>
      <select
        value={value}
        onChange={(event) => onChange(Number(event.target.value))}
        className="mt-0.5 block w-full rounded-md border border-line bg-sheet px-1.5 py-1 text-base"
      >
        {fitting.map(({ account }) => (
          <option key={account.id} value={account.id}>
            {account.gl_number} {account.name}
          </option>
        ))}
      </select>
    </label>
  );
}

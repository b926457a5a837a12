import { useState, type SyntheticEvent } from "react";

import { Button, Field } from "../../ui/controls";
import { AccountChoice } from "../books/AccountChoice";
import { useGlAccounts } from "../books/books";
import { useCodingLists, usePostings, type PartGiven } from "../coding/coding";
import { EMPTY_PART, partsGiven, partsOf, sharesIn, type PartTyped } from "../coding/parts";
import { PartRow } from "../coding/PartRow";
import { RuleDialog } from "../coding/RuleDialog";
import type { Desk, Line, Row } from "./api";
import { useWriting } from "./writing";

/** How lines are recorded: which, the parts of each amount, payee and memo, the rule that said so. */
export interface Recording {
  lines: number[];
  parts: PartGiven[];
  payee: string;
  memo: string;
  rule_id: number | null;
}

interface RecordFormProps {
  desk: Desk;
  row: Row;
  line: Line;
  currency: string;
  /** Other open lines of the same text. */
  alike: number[];
  busy: boolean;
  onRecord: (recording: Recording) => void;
}

/** Records a statement line the books lack: date and amount are the line's; the rest is prefilled where it can be. */
export function RecordForm({ desk, row, line, currency, alike, busy, onRecord }: RecordFormProps) {
  const write = useWriting();
  const accounts = useGlAccounts(desk.companyId);
  const lists = useCodingLists(desk.companyId);
  const { suggestion } = row;
  const [parts, setParts] = useState<PartTyped[]>(() => partsOf(suggestion));
  const [payee, setPayee] = useState(suggestion?.payee ?? "");
  const [memo, setMemo] = useState(suggestion?.memo || sentence(line.description));
  const [all, setAll] = useState(false);
  const [ruling, setRuling] = useState(false);
  const split = parts.length > 1;
  const given = partsGiven(parts, line.amount, currency);
  const telling = split || parts.some((part) => part.tax !== null);
  const effect = usePostings(desk, line.id, given ?? [], given !== null && telling);
  const known = suggestion && same(parts, partsOf(suggestion)) ? suggestion.rule_id : null;
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    if (given) onRecord({ lines: all ? [line.id, ...alike] : [line.id], parts: given, payee, memo, rule_id: known });
  };
  const byParty = (name: string) => {
    setPayee(name);
    const party = lists.data?.parties.find((item) => item.name.toLowerCase() === name.trim().toLowerCase());
    const first = parts[0];
    if (!party?.gl_account_id || !first || split || first.account !== null) return;
    const usual = { account: party.gl_account_id, tax: party.tax_code_id ?? null };
    setParts([{ ...first, ...usual, department: party.department_id ?? null }]);
  };
  return (
    <form onSubmit={submit} data-record className="space-y-2 rounded-lg border border-line bg-sheet px-3 py-2.5">
      <h3 className="text-xs font-semibold text-muted">The books lack this: record it</h3>
      {suggestion && <p className="text-xs text-muted">Filled in: {suggestion.why}.</p>}
      {suggestion && suggestion.conflict.length > 0 && (
        <p className="text-xs text-ember">
          {suggestion.conflict.length === 1 ? "Another rule says" : "Other rules say"} otherwise:{" "}
          {suggestion.conflict.map((name) => `“${name}”`).join(", ")}.
        </p>
      )}
      {parts.map((part, n) => (
        <PartRow
          key={n}
          part={part}
          split={split}
          number={n + 1}
          accounts={accounts.data ?? []}
          lists={lists.data}
          mayTop
          onChange={(next) => setParts(parts.map((old, m) => (m === n ? next : old)))}
          onRemove={() => setParts(parts.filter((_, m) => m !== n))}
        />
      ))}
      <div className="flex justify-between">
        <button type="button" className="font-semibold text-wine" onClick={() => setParts([...parts, EMPTY_PART])}>
          {split ? "One part more" : "Split it"}
        </button>
        <button type="button" className="font-semibold text-wine" onClick={() => setRuling(true)}>
          Make a rule
        </button>
      </div>
      <Field label="Payee" list="parties" value={payee} onChange={(event) => byParty(event.target.value)} />
      <datalist id="parties">
        {lists.data?.parties.map((party) => (
          <option key={party.name} value={party.name} />
        ))}
      </datalist>
      <Field label="Memo" value={memo} onChange={(event) => setMemo(event.target.value)} />
      {telling && (
        <div aria-label="What it posts" className="text-xs">
          {effect.error && <p className="text-ember">{effect.error.message.replace(" Nothing was changed.", "")}</p>}
          {!effect.error &&
            effect.data?.map((posting, n) => (
              <p key={n} className="flex justify-between">
                <span className="text-muted">
                  {accounts.data?.find((account) => account.id === posting.gl_account_id)?.name}
                </span>
                <span className="figure">{write.amount(posting.amount)}</span>
              </p>
            ))}
        </div>
      )}
      {alike.length > 0 && (
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-wine"
            checked={all}
            onChange={(event) => setAll(event.target.checked)}
          />
          and {alike.length === 1 ? "the other line" : `the ${alike.length} other lines`} of this text
        </label>
      )}
      <Button
        weight="main"
        type="submit"
        shortcut={row.settles ? undefined : "Enter"}
        className="w-full"
        disabled={busy || given === null || (telling && !!effect.error)}
      >
        Record and match
      </Button>
      {ruling && (
        <RuleDialog
          companyId={desk.companyId}
          start={{
            name: sentence(line.description),
            text: letters(line.description),
            payee,
            way: line.amount < 0 ? "out" : "in",
            shares: sharesIn(given ?? [], line.amount),
          }}
          onClose={() => setRuling(false)}
        />
      )}
    </form>
  );
}

function same(one: PartTyped[], other: PartTyped[]): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

/** A bank text up to its first number: what it has in common with the next one. */
function letters(text: string): string {
  return (/^\D+/.exec(text)?.[0] ?? text).replace(/\s+\S*$/, (end) => (/\d/.test(text) ? "" : end)).trim();
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

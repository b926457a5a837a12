import { useState, type SyntheticEvent } from "react";

import { useCompany } from "../../app/session";
import { shortDay } from "../../format/dates";
import { kindOptions } from "../../format/kinds";
import { money, parseMoney, plain } from "../../format/money";
import { Button, Field, Select, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useGlAccounts } from "../books/books";
import { useCodingChange, useCodingLists, useTrial, type Rule, type RuleValues } from "./coding";
import { EMPTY_PART, parseShare, type PartTyped } from "./parts";
import { PartRow } from "./PartRow";

const HOW: [RuleValues["how"], string][] = [
  ["contains", "contains"],
  ["whole words", "has the whole words"],
  ["pattern", "fits the pattern"],
];
const WAYS: [RuleValues["way"], string][] = [
  ["in or out", "in or out"],
  ["in", "money in"],
  ["out", "money out"],
];
const KINDS = kindOptions("any kind");

interface RuleDialogProps {
  companyId: number;
  /** A rule to change, or what a line gives for a new one. */
  known?: Rule | undefined;
  start?: Partial<RuleValues>;
  onClose: () => void;
}

function typedParts(shares: RuleValues["shares"]): PartTyped[] {
  if (!shares.length) return [EMPTY_PART];
  return shares.map((share) => ({
    ...EMPTY_PART,
    account: share.gl_account_id,
    size: shares.length > 1 ? `${share.share / 100} %` : "",
    tax: share.tax_code_id ?? null,
    department: share.department_id ?? null,
    tags: share.tags.join(" "),
  }));
}

/** The shares of a rule; null while a part lacks its account or, in a split, its percentage. */
function sharesOf(parts: PartTyped[]): RuleValues["shares"] | null {
  const found: RuleValues["shares"] = [];
  for (const part of parts) {
    const share = parts.length === 1 ? 10_000 : parseShare(part.size);
    if (part.account === null || share === null) return null;
    found.push({
      gl_account_id: part.account,
      share,
      tax_code_id: part.tax,
      department_id: part.department,
      tags: part.tags.split(/\s+/).filter(Boolean),
    });
  }
  return found;
}

/** A coding rule, tried on all past lines before it is kept. */
export function RuleDialog({ companyId, known, start, onClose }: RuleDialogProps) {
  const { currency, locale } = useCompany(companyId);
  const accounts = useGlAccounts(companyId);
  const lists = useCodingLists(companyId);
  const change = useCodingChange(companyId);
  const given = known ?? start ?? {};
  const [texts, setTexts] = useState({
    name: given.name ?? "",
    text: given.text ?? "",
    payee: given.payee ?? "",
    low: given.low == null ? "" : plain(given.low, currency),
    high: given.high == null ? "" : plain(given.high, currency),
  });
  const [how, setHow] = useState<string>(given.how ?? "contains");
  const [way, setWay] = useState<string>(given.way ?? "in or out");
  const [kind, setKind] = useState<string>(given.kind ?? "");
  const [atOnce, setAtOnce] = useState(given.at_once ?? false);
  const [parts, setParts] = useState<PartTyped[]>(() => typedParts(given.shares ?? []));
  const shares = sharesOf(parts);
  const limit = (text: string) => (text.trim() ? parseMoney(text, currency) : null);
  const values: RuleValues = {
    name: texts.name,
    text: texts.text,
    payee: texts.payee,
    memo: given.memo ?? "",
    how: how as RuleValues["how"],
    way: way as RuleValues["way"],
    low: limit(texts.low),
    high: limit(texts.high),
    kind: (kind || null) as RuleValues["kind"] & null,
    bank_account_id: given.bank_account_id ?? null,
    at_once: atOnce,
    shares: shares ?? [],
  };
  const ready = shares !== null && values.name !== "" && (values.text !== "" || kind !== "");
  const trial = useTrial(companyId, values, ready);
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    // It may stand inside a form of its own: what is kept here is the rule alone.
    event.stopPropagation();
    change.mutate(
      known ? { change: "write rule", id: known.id, values, active: known.active } : { change: "add rule", values },
      { onSuccess: onClose },
    );
  };
  const field = (name: keyof typeof texts, label: string, more: object = {}) => (
    <Field
      label={label}
      value={texts[name]}
      onChange={(event) => setTexts({ ...texts, [name]: event.target.value })}
      {...more}
    />
  );
  return (
    <Dialog title={known ? "Change the rule" : "New coding rule"} open wide onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <div className="grid grid-cols-2 gap-3">
          {field("name", "Name of the rule", { required: true })}
          {field("payee", "Payee it gives")}
        </div>
        <div className="flex flex-wrap items-end gap-3">
          <Select label="The bank's text" value={how} options={HOW} onChange={setHow} />
          <div className="flex-1">{field("text", "Text")}</div>
          <Select label="Money" value={way} options={WAYS} onChange={setWay} />
          <Select label="Kind of line" value={kind} options={KINDS} onChange={setKind} />
        </div>
        <div className="grid grid-cols-4 gap-3">
          {field("low", "Amount from", { figure: true })}
          {field("high", "Amount to", { figure: true })}
          <label className="col-span-2 flex items-end gap-2 pb-1">
            <input
              type="checkbox"
              className="accent-wine"
              checked={atOnce}
              onChange={(event) => setAtOnce(event.target.checked)}
            />
            record at once, when the passes run
          </label>
        </div>
        {parts.map((part, n) => (
          <PartRow
            key={n}
            part={part}
            split={parts.length > 1}
            number={n + 1}
            accounts={accounts.data ?? []}
            lists={lists.data}
            onChange={(next) => setParts(parts.map((old, m) => (m === n ? next : old)))}
            onRemove={() => setParts(parts.filter((_, m) => m !== n))}
          />
        ))}
        <Button weight="quiet" onClick={() => setParts([...parts, EMPTY_PART])}>
          Split by percent
        </Button>
        <div aria-live="polite" className="rounded-md border border-line bg-paper p-3">
          {!ready && (
            <p className="text-muted">Named, with a text and an account, it is tried on all past lines here.</p>
          )}
          {ready && trial.error && <Trouble>{trial.error.message}</Trouble>}
          {ready && trial.data && !trial.error && (
            <>
              <p className="font-semibold">
                It would have coded {trial.data.lines} past {trial.data.lines === 1 ? "line" : "lines"}
                {trial.data.differs
                  ? `, ${trial.data.differs} otherwise than was done`
                  : ", none otherwise than was done"}
                .
              </p>
              <table className="mt-1 w-full">
                <tbody>
                  {trial.data.samples.map((line, n) => (
                    <tr key={n}>
                      <td className="w-16 text-muted">{shortDay(line.date, locale)}</td>
                      <td className="max-w-64 truncate font-mono text-xs">{line.description}</td>
                      <td className="figure text-right">{money(line.amount, currency, locale)}</td>
                      <td className={`pl-4 ${line.agrees ? "text-muted" : "text-ember"}`}>
                        {line.was ? `was ${line.was}` : ""}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
        </div>
        {change.error && <Trouble>{change.error.message}</Trouble>}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" type="submit" disabled={!ready || change.isPending || !!trial.error}>
            Keep the rule
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

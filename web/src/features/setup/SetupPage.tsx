import { useState, type SyntheticEvent } from "react";

import { Link } from "react-router";

import { useBoard, type Account } from "../../app/places";
import { useCompany, useMe } from "../../app/session";
import { Shell } from "../../app/Shell";
import { longDay } from "../../format/dates";
import { money, parseMoney } from "../../format/money";
import { Button, Field, Select, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useGlAccounts } from "../books/books";
import { LessonsDialog } from "../teaching/LessonsDialog";
import { useSetup, type NewBankAccount, type NewLedgerAccount } from "./setup";
import { PassesSetup } from "./PassesSetup";
import { PeopleSetup } from "./PeopleSetup";
import { StaleSetup } from "./StaleSetup";
import { StartDialog } from "./StartDialog";

/** Ledger accounts, bank accounts and how each starts, company by company. */
export function SetupPage() {
  const me = useMe();
  const mine = me.companies.filter((company) => company.rights.includes("manage"));
  return (
    <Shell>
      <main className="h-full overflow-auto px-6 pt-5 pb-10">
        <h1 className="text-xl font-bold">Setup</h1>
        {!mine.length && <p className="mt-2 text-muted">Only an owner changes the setup of a company.</p>}
        {mine.map((company) => (
          <CompanySetup key={company.id} companyId={company.id} />
        ))}
      </main>
    </Shell>
  );
}

function CompanySetup({ companyId }: { companyId: number }) {
  const company = useCompany(companyId);
  const board = useBoard();
  const ledger = useGlAccounts(companyId);
  const [open, setOpen] = useState<
    "bank" | "ledger" | { start: Account } | { passes: Account } | { lessons: Account } | null
  >(null);
  const accounts = board.data?.companies.find((c) => c.id === companyId)?.accounts ?? [];
  return (
    <section className="mt-4 grid grid-cols-[2fr_1fr] items-start gap-6">
      <div>
        <div className="mb-1 flex items-center justify-between">
          <h2 className="font-bold text-wine">{company.name} · bank, card and cash accounts</h2>
          <span className="flex items-center gap-4">
            <Link className="font-semibold text-wine" to={`/company/${companyId}/coding`}>
              Rules, taxes, departments
            </Link>
            <Button onClick={() => setOpen("bank")}>Add an account</Button>
          </span>
        </div>
        <table className="w-full border-collapse bg-sheet">
          <thead className="text-left text-xs text-muted">
            <tr className="border-b border-line">
              <th className="px-3 py-1.5 font-normal">Account</th>
              <th className="pr-4 font-normal whitespace-nowrap">Control account</th>
              <th className="font-normal">Starts</th>
              <th className="text-right font-normal">Balance then</th>
              <th>
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {accounts.map(({ account }) => (
              <tr key={account.id} className="h-9 border-b border-hair">
                <td className="px-3">
                  <b>{account.name}</b>{" "}
                  <span className="text-xs text-muted">
                    {account.bank || "counted"} {account.number && `·${account.number}`} {account.currency}
                  </span>
                </td>
                <td className="figure">{account.gl_number}</td>
                <td className="pr-4 whitespace-nowrap">{longDay(account.starting_date, company.locale)}</td>
                <td className="figure text-right">
                  {money(account.starting_balance, account.currency, company.locale)}
                </td>
                <td className="px-2 text-right whitespace-nowrap">
                  <Button weight="quiet" onClick={() => setOpen({ passes: account })}>
                    Passes
                  </Button>
                  <Button weight="quiet" onClick={() => setOpen({ lessons: account })}>
                    Readers
                  </Button>
                  <Button weight="quiet" onClick={() => setOpen({ start: account })}>
                    How it starts
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <PeopleSetup companyId={companyId} />
        <StaleSetup companyId={companyId} />
      </div>
      <div>
        <div className="mb-1 flex items-center justify-between">
          <h2 className="font-bold text-wine">Chart of accounts</h2>
          <Button onClick={() => setOpen("ledger")}>Add a ledger account</Button>
        </div>
        <table className="w-full border-collapse bg-sheet">
          <tbody>
            {ledger.data?.map((account) => (
              <tr key={account.id} className="h-7 border-b border-hair">
                <td className="figure w-16 px-3">{account.number}</td>
                <td>{account.name}</td>
                <td className="pr-3 text-right text-muted">{account.kind}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {open === "ledger" && <LedgerDialog companyId={companyId} onClose={() => setOpen(null)} />}
      {open === "bank" && <BankDialog companyId={companyId} onClose={() => setOpen(null)} />}
      {open !== null && typeof open === "object" && "passes" in open && (
        <PassesSetup companyId={companyId} account={open.passes} onClose={() => setOpen(null)} />
      )}
      {open !== null && typeof open === "object" && "lessons" in open && (
        <LessonsDialog companyId={companyId} account={open.lessons} onClose={() => setOpen(null)} />
      )}
      {open !== null && typeof open === "object" && "start" in open && (
        <StartDialog companyId={companyId} account={open.start} onClose={() => setOpen(null)} />
      )}
    </section>
  );
}

const LEDGER_KINDS: NewLedgerAccount["kind"][] = ["asset", "liability", "equity", "income", "expense"];

function LedgerDialog({ companyId, onClose }: { companyId: number; onClose: () => void }) {
  const setup = useSetup(companyId);
  const [values, setValues] = useState<NewLedgerAccount>({ number: "", name: "", kind: "asset" });
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    setup.mutate({ set: "ledger account", body: values }, { onSuccess: onClose });
  };
  return (
    <Dialog title="New ledger account" open onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <div className="grid grid-cols-[7rem_1fr] gap-3">
          <Field
            label="Number"
            required
            value={values.number}
            onChange={(event) => setValues({ ...values, number: event.target.value })}
          />
          <Field
            label="Name"
            required
            value={values.name}
            onChange={(event) => setValues({ ...values, name: event.target.value })}
          />
        </div>
        <Select
          label="Kind"
          value={values.kind}
          options={LEDGER_KINDS.map((kind) => [kind, kind])}
          onChange={(kind) => setValues({ ...values, kind: kind as NewLedgerAccount["kind"] })}
        />
        {setup.error && <Trouble>{setup.error.message}</Trouble>}
        <Buttons busy={setup.isPending} onClose={onClose} />
      </form>
    </Dialog>
  );
}

const BANK_KINDS: [NewBankAccount["kind"], string][] = [
  ["bank", "bank account"],
  ["card", "card"],
  ["cash", "cash box, counted"],
];

function BankDialog({ companyId, onClose }: { companyId: number; onClose: () => void }) {
  const company = useCompany(companyId);
  const ledger = useGlAccounts(companyId);
  const setup = useSetup(companyId);
  const [kind, setKind] = useState<NewBankAccount["kind"]>("bank");
  const [control, setControl] = useState("");
  const [texts, setTexts] = useState({
    name: "",
    bank: "",
    number: "",
    currency: company.currency,
    date: "",
    balance: "",
  });
  const balance = parseMoney(texts.balance || "0", texts.currency);
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    if (balance === null) return;
    const { name, bank, number, currency, date } = texts;
    const body = { name, bank, number, currency, kind, starting_date: date, starting_balance: balance };
    setup.mutate({ set: "bank account", body: { ...body, gl_account_id: Number(control) } }, { onSuccess: onClose });
  };
  const field = (name: keyof typeof texts, label: string, more: object = {}) => (
    <Field
      label={label}
      value={texts[name]}
      onChange={(event) => setTexts({ ...texts, [name]: event.target.value })}
      {...more}
    />
  );
  const controls = (ledger.data ?? []).filter((a) => a.kind === "asset" || a.kind === "liability");
  return (
    <Dialog title="New bank, card or cash account" open onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <div className="grid grid-cols-2 gap-3">
          {field("name", "Name", { required: true })}
          <Select
            label="Kind"
            value={kind}
            options={BANK_KINDS}
            onChange={(value) => setKind(value as NewBankAccount["kind"])}
          />
          {field("bank", "Bank")}
          {field("number", "Account number, or its last digits")}
          <Select
            label="Control account in the ledger"
            value={control}
            options={[
              ["", "choose …"],
              ...controls.map((a): [string, string] => [String(a.id), `${a.number} ${a.name}`]),
            ]}
            onChange={setControl}
          />
          {field("currency", "Currency", { required: true, maxLength: 3 })}
          {field("date", "Starts after this day", { type: "date", required: true })}
          {field("balance", "Statement balance that day", {
            figure: true,
            error: balance === null ? `is no amount in ${texts.currency}` : undefined,
          })}
        </div>
        {setup.error && <Trouble>{setup.error.message}</Trouble>}
        <Buttons busy={setup.isPending || !control || balance === null} onClose={onClose} />
      </form>
    </Dialog>
  );
}

export function Buttons({ busy, onClose }: { busy: boolean; onClose: () => void }) {
  return (
    <div className="flex justify-end gap-2">
      <Button onClick={onClose}>Cancel</Button>
      <Button weight="main" type="submit" disabled={busy}>
        Save
      </Button>
    </div>
  );
}

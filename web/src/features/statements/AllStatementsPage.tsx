import { useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { accountPath, spinePath } from "../../app/places";
import { useCompany, useMe } from "../../app/session";
import { Shell } from "../../app/Shell";
import { counted, longDay, monthName } from "../../format/dates";
import { money } from "../../format/money";
import { Empty, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { BankButtons } from "../bank/BankButtons";
import { OriginalView } from "../evidence/OriginalView";
import { useAllStatements } from "./statements";

type AccountStatements = Schemas["AccountStatementsOut"];
type Slot = Schemas["SlotOut"];

/** Every statement of every account by period, its original, and what is missing. */
export function AllStatementsPage() {
  const me = useMe();
  return (
    <Shell>
      <main className="h-full overflow-auto px-6 pt-5 pb-10">
        <h1 className="text-xl font-bold">Statements</h1>
        {me.companies.map((company) => (
          <CompanyStatements key={company.id} companyId={company.id} />
        ))}
      </main>
    </Shell>
  );
}

function CompanyStatements({ companyId }: { companyId: number }) {
  const company = useCompany(companyId);
  const found = useAllStatements(companyId);
  return (
    <section className="mt-4">
      <h2 className="font-bold text-wine">{company.name}</h2>
      {found.error && <Trouble>{found.error.message}</Trouble>}
      {found.data?.length === 0 && <Empty title="No bank account yet." />}
      <div className="mt-1 grid grid-cols-[repeat(auto-fill,minmax(27rem,1fr))] gap-4">
        {found.data?.map((account) => (
          <AccountBox key={account.account_id} companyId={companyId} account={account} locale={company.locale} />
        ))}
      </div>
    </section>
  );
}

function AccountBox({ companyId, account, locale }: { companyId: number; account: AccountStatements; locale: string }) {
  const path = accountPath(companyId, account.account_id, "statements");
  return (
    <div className="rounded-lg border border-line bg-sheet px-4 py-3">
      <div className="mb-1 flex min-h-8 items-center justify-between gap-3">
        <span>
          <Link to={path} className="text-base font-bold hover:text-wine">
            {account.account_name}
          </Link>
          <span className="ml-2 text-xs text-muted">
            {account.bank || "counted"}
            {account.number && ` ·${account.number}`}
          </span>
        </span>
        {account.connected && <BankButtons companyId={companyId} accountId={account.account_id} />}
      </div>
      {account.slots.length === 0 && <p className="text-muted">Nothing yet.</p>}
      <table className="w-full border-collapse">
        <tbody>
          {account.slots.map((slot) => (
            <SlotRow
              key={`${slot.month}/${slot.statement?.id ?? 0}`}
              companyId={companyId}
              account={account}
              slot={slot}
              locale={locale}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface SlotRowProps {
  companyId: number;
  account: AccountStatements;
  slot: Slot;
  locale: string;
}

function SlotRow({ companyId, account, slot, locale }: SlotRowProps) {
  const [open, setOpen] = useState(false);
  const { statement } = slot;
  if (!statement) {
    return (
      <tr className="h-8 border-t border-hair">
        <td>{monthName(slot.month, locale)}</td>
        <td colSpan={2} className="text-ember">
          {account.kind === "cash" ? "not counted yet" : "no statement"}
        </td>
        <td className="text-right">
          <Link className="font-semibold text-wine" to={accountPath(companyId, account.account_id, "statements")}>
            {account.kind === "cash" ? "count" : "get it"}
          </Link>
        </td>
      </tr>
    );
  }
  const closing = statement.closing === null ? "no closing yet" : money(statement.closing, account.currency, locale);
  return (
    <tr className="h-8 border-t border-hair">
      <td>
        <Link className="hover:text-wine" to={spinePath(companyId, statement.reconciliation_id)}>
          to {longDay(statement.end, locale)}
        </Link>
      </td>
      <td className="text-muted">{statement.line_count ? counted(statement.line_count, "line") : statement.format}</td>
      <td className="figure pr-4 text-right">{closing}</td>
      <td className="text-right">
        {statement.file_name ? (
          <button
            type="button"
            className="min-h-6 max-w-52 truncate font-semibold text-wine"
            title={statement.file_name}
            onClick={() => setOpen(true)}
          >
            {statement.file_name}
          </button>
        ) : (
          <span className="text-muted">{statement.format === "feed" ? "bank's service" : "from paper"}</span>
        )}
        {open && (
          <Dialog title="Original" open wide onClose={() => setOpen(false)}>
            <OriginalView companyId={companyId} statementId={statement.id} />
          </Dialog>
        )}
      </td>
    </tr>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";

import { answer, client, type Schemas } from "../../api/client";
import { useBoard } from "../../app/places";
import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { counted, longDay, shortDay } from "../../format/dates";
import { money } from "../../format/money";
import { Empty, Select, Trouble } from "../../ui/controls";
import { useGlAccounts } from "./books";

type Group = Schemas["GroupOut"];

/** A clearing account: what nets to zero is settled, the rest is owed, or was paid without cause. */
export function ClearingPage() {
  const { companyId } = useParams();
  const [query, setQuery] = useSearchParams();
  const company = Number(companyId);
  const board = useBoard();
  const ledger = useGlAccounts(company);
  const own = new Set(
    board.data?.companies.find((c) => c.id === company)?.accounts.map(({ account }) => account.gl_number),
  );
  const open = (ledger.data ?? []).filter(
    (account) => !own.has(account.number) && (account.kind === "asset" || account.kind === "liability"),
  );
  const asked = Number(query.get("account") ?? 0) || (open[0]?.id ?? 0);
  const [on, setOn] = useState(() => new Date().toISOString().slice(0, 10));
  return (
    <Shell>
      <main className="flex h-full flex-col overflow-auto px-6 pt-5 pb-8">
        <div className="mb-4 flex flex-wrap items-center gap-4">
          <h1 className="text-xl font-bold">Clearing accounts</h1>
          <Select
            inline
            label="Account"
            value={String(asked)}
            options={open.map((account) => [String(account.id), `${account.number} ${account.name}`] as const)}
            onChange={(id) => setQuery({ account: id })}
          />
          <label className="flex items-center gap-1.5 text-muted">
            up to
            <input
              type="date"
              required
              value={on}
              onChange={(event) => event.target.value && setOn(event.target.value)}
              className="rounded border border-line bg-sheet px-1 py-0.5 text-ink"
            />
          </label>
        </div>
        {asked > 0 && <Cleared companyId={company} accountId={asked} on={on} />}
        {ledger.data && !asked && (
          <Empty title="No account that should empty itself">There is none in this chart.</Empty>
        )}
      </main>
    </Shell>
  );
}

function Cleared({ companyId, accountId, on }: { companyId: number; accountId: number; on: string }) {
  const { locale, currency } = useCompany(companyId);
  const found = useQuery({
    queryKey: ["cleared", companyId, accountId, on],
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/gl-accounts/{account_id}/cleared", {
          params: { path: { company_id: companyId, account_id: accountId }, query: { on } },
        }),
      ),
  });
  if (found.error) return <Trouble>{found.error.message}</Trouble>;
  if (!found.data) return null;
  const { settled, owed, without_cause, balance, total_owed, total_without_cause } = found.data;
  const write = (amount: number) => money(amount, currency, locale);
  return (
    <>
      <p className="mb-4">
        Balance on {longDay(on, locale)} <b className="figure">{write(balance)}</b>
        <span className="text-muted">
          {" "}
          = owed {write(total_owed)} + paid without cause {write(total_without_cause)};{" "}
          {counted(settled.length, "group")} settled
        </span>
      </p>
      <div className="grid grid-cols-2 items-start gap-6">
        <Groups title="Owed, largest first" groups={owed} none="Nothing is owed." write={write} locale={locale} />
        <Groups
          title="Paid without cause"
          groups={without_cause}
          none="Nothing was paid without cause."
          write={write}
          locale={locale}
        />
      </div>
      <div className="mt-6">
        <Groups
          title="Settled: nets to zero"
          groups={settled}
          none="No group nets to zero."
          write={write}
          locale={locale}
        />
      </div>
    </>
  );
}

interface GroupsProps {
  title: string;
  groups: Group[];
  none: string;
  write: (amount: number) => string;
  locale: string;
}

function Groups({ title, groups, none, write, locale }: GroupsProps) {
  return (
    <section aria-label={title}>
      <h2 className="mb-1 font-bold text-wine">{title}</h2>
      {!groups.length && <p className="text-muted">{none}</p>}
      <div className="bg-sheet">
        {groups.map((group) => (
          <details key={`${group.by}/${group.name}/${group.postings[0]?.id}`} className="border-b border-hair">
            <summary className="grid h-7 cursor-pointer grid-cols-[1fr_6rem_8rem] items-center px-3">
              <span className="truncate">
                {group.name} <span className="text-xs text-muted">by {group.by}</span>
              </span>
              <span className="text-xs text-muted">{counted(group.postings.length, "posting")}</span>
              <span className="figure text-right">{write(group.remainder)}</span>
            </summary>
            <table className="mb-2 ml-6 text-muted">
              <tbody>
                {group.postings.map((posting) => (
                  <tr key={posting.id}>
                    <td className="pr-4">{shortDay(posting.date, locale)}</td>
                    <td className="figure pr-4 text-xs">{posting.reference}</td>
                    <td className="pr-4">{posting.party}</td>
                    <td className="figure text-right">{write(posting.amount)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </details>
        ))}
      </div>
    </section>
  );
}

import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import { answer, client, type Schemas } from "../../api/client";
import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { longDay, shortDay } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Field, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useRefresh } from "../statements/statements";
import { ChartImportDialog } from "./ChartImportDialog";
import { FileLink } from "./FileLink";

type Balance = Schemas["BalanceOut"];

const COMPANY = "/api/companies/{company_id}";

/** The general ledger: balances that sum to zero, the postings of an account, and where a posting belongs. */
export function LedgerPage() {
  const companyId = Number(useParams().companyId);
  const company = useCompany(companyId);
  const [query, setQuery] = useSearchParams();
  const [on, setOn] = useState(() => new Date().toISOString().slice(0, 10));
  const params = { path: { company_id: companyId }, query: { on } };
  const found = useQuery({
    queryKey: ["trial balance", companyId, on],
    queryFn: () => answer(client.GET(`${COMPANY}/trial-balance`, { params })),
  });
  const accounts = found.data?.accounts ?? [];
  const chosen = accounts.find(({ id }) => id === Number(query.get("account"))) ?? accounts[0];
  const write = (amount: number) => money(amount, company.currency, company.locale);
  return (
    <Shell>
      <main className="flex h-full flex-col px-6 pt-5">
        <div className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2">
          <h1 className="text-xl font-bold">Ledger · {company.name}</h1>
          <label className="flex items-center gap-1.5 text-muted">
            on
            <input
              type="date"
              required
              value={on}
              onChange={(event) => event.target.value && setOn(event.target.value)}
              className="rounded border border-line bg-sheet px-1 py-0.5 text-ink"
            />
          </label>
          <span className="ml-auto flex items-center gap-4">
            <Imports companyId={companyId} />
            <Exports companyId={companyId} />
            <Lock companyId={companyId} date={found.data?.lock_date ?? null} />
            <Link className="font-semibold text-wine" to={`/company/${companyId}/journal`}>
              Journal
            </Link>
            <Link className="font-semibold text-wine" to={`/company/${companyId}/open-items`}>
              Open items
            </Link>
            <Link className="font-semibold text-wine" to={`/company/${companyId}/clearing`}>
              Clearing accounts
            </Link>
          </span>
        </div>
        {found.error && <Trouble>{found.error.message}</Trouble>}
        {chosen && found.data && (
          <div className="grid min-h-0 flex-1 grid-cols-[25rem_1fr] gap-6">
            <section aria-label="Trial balance" className="min-h-0 overflow-auto">
              <table className="w-full border-collapse bg-sheet">
                <tbody>
                  {accounts.map((account) => (
                    <tr
                      key={account.id}
                      aria-selected={account.id === chosen.id}
                      className={`h-7 cursor-pointer border-b border-hair ${account.id === chosen.id ? "bg-wine-soft" : "hover:bg-paper"}`}
                      onClick={() => setQuery({ account: String(account.id) })}
                    >
                      <td className="figure w-14 pl-3">{account.number}</td>
                      <td>
                        <button type="button" className="text-left">
                          {account.name}
                        </button>
                      </td>
                      <td className="figure pr-3 text-right">{account.balance ? write(account.balance) : "–"}</td>
                    </tr>
                  ))}
                </tbody>
                <tfoot>
                  <tr className="h-9 border-t-2 border-ink font-bold">
                    <td className="pl-3" colSpan={2}>
                      All accounts
                    </td>
                    <td className="figure pr-3 text-right">{write(found.data.total)}</td>
                  </tr>
                </tfoot>
              </table>
            </section>
            <Postings key={chosen.id} companyId={companyId} account={chosen} accounts={accounts} on={on} />
          </div>
        )}
      </main>
    </Shell>
  );
}

interface PostingsProps {
  companyId: number;
  account: Balance;
  accounts: Balance[];
  on: string;
}

const SHOWN = 200;

function Postings({ companyId, account, accounts, on }: PostingsProps) {
  const { locale, currency, rights } = useCompany(companyId);
  const refresh = useRefresh();
  const params = { path: { company_id: companyId, account_id: account.id }, query: { on } };
  const found = useQuery({
    queryKey: ["postings of", companyId, account.id, on],
    queryFn: () => answer(client.GET(`${COMPANY}/gl-accounts/{account_id}/postings`, { params })),
  });
  const move = useMutation({
    mutationFn: ({ posting, to }: { posting: number; to: number }) =>
      answer(
        client.POST(`${COMPANY}/postings/{posting_id}/move`, {
          params: { path: { company_id: companyId, posting_id: posting } },
          body: { account_id: to },
        }),
      ),
    onSuccess: refresh,
  });
  const may = rights.includes("prepare") && !account.control;
  const latest = [...(found.data ?? [])].reverse();
  return (
    <section aria-label={`Postings of ${account.name}`} className="flex min-h-0 flex-col">
      <h2 className="mb-1 font-bold text-wine">
        {account.number} {account.name}
        <span className="ml-2 font-normal text-muted">
          {account.control ? "control account: its entries stand in the bank book" : "newest first"}
        </span>
      </h2>
      {move.error && <Trouble>{move.error.message}</Trouble>}
      <div className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={0}>
        {found.data?.length === 0 && <p className="p-3 text-muted">Nothing has been posted here up to that day.</p>}
        <table className="w-full border-collapse">
          <tbody>
            {latest.slice(0, SHOWN).map((posting) => (
              <tr key={posting.id} className="h-7 border-b border-hair">
                <td className="w-16 pl-3 text-muted">{shortDay(posting.date, locale)}</td>
                <td className="max-w-72 truncate">{posting.party}</td>
                <td className="figure text-xs">{posting.reference}</td>
                <td className="figure text-right">{money(posting.amount, currency, locale)}</td>
                <td className="w-44 pr-2 pl-4 text-right">
                  {may && (
                    <select
                      aria-label={`Move ${posting.party} of ${shortDay(posting.date, locale)} to`}
                      value=""
                      onChange={(event) => move.mutate({ posting: posting.id, to: Number(event.target.value) })}
                      className="w-40 rounded border border-line bg-sheet px-1 text-wine"
                    >
                      <option value="">belongs on …</option>
                      {accounts
                        .filter((other) => !other.control && other.id !== account.id)
                        .map((other) => (
                          <option key={other.id} value={other.id}>
                            {other.number} {other.name}
                          </option>
                        ))}
                    </select>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {latest.length > SHOWN && <p className="p-3 text-muted">… and {latest.length - SHOWN} older postings.</p>}
      </div>
    </section>
  );
}

function Lock({ companyId, date }: { companyId: number; date: string | null }) {
  const { locale, rights } = useCompany(companyId);
  const refresh = useRefresh();
  const [typed, setTyped] = useState<string | null>(null);
  const lock = useMutation({
    mutationFn: (day: string | null) =>
      answer(client.PUT(`${COMPANY}/lock-date`, { params: { path: { company_id: companyId } }, body: { date: day } })),
    onSuccess: async () => {
      setTyped(null);
      await refresh();
    },
  });
  if (typed === null) {
    return (
      <span className="text-muted">
        {date ? `locked to ${longDay(date, locale)}` : "not locked"}
        {rights.includes("manage") && (
          <button type="button" className="ml-2 font-semibold text-wine" onClick={() => setTyped(date ?? "")}>
            {date ? "Move the lock" : "Lock the books"}
          </button>
        )}
      </span>
    );
  }
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        lock.mutate(typed || null);
      }}
    >
      <label className="flex items-center gap-1.5 text-muted">
        locked to
        <input
          type="date"
          autoFocus
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="rounded border border-line bg-sheet px-1 py-0.5 text-ink"
        />
      </label>
      <Button type="submit">{typed ? "Lock" : "Open the books"}</Button>
      {lock.error && <Trouble>{lock.error.message}</Trouble>}
    </form>
  );
}

/** The chart of accounts from books kept elsewhere. */
function Imports({ companyId }: { companyId: number }) {
  const { rights } = useCompany(companyId);
  const [file, setFile] = useState<File | null>(null);
  if (!rights.includes("manage")) return null;
  return (
    <>
      <FileLink words="Import accounts" onChoose={setFile} />
      {file && <ChartImportDialog companyId={companyId} file={file} onClose={() => setFile(null)} />}
    </>
  );
}

/** Entries recorded here, for books kept elsewhere: each exported once, every export to be had again. */
function Exports({ companyId }: { companyId: number }) {
  const { locale, rights } = useCompany(companyId);
  const refresh = useRefresh();
  const [open, setOpen] = useState(false);
  const month = new Date().toISOString().slice(0, 7);
  const [period, setPeriod] = useState({ start: `${month}-01`, end: new Date().toISOString().slice(0, 10) });
  const path = { company_id: companyId };
  const made = useQuery({
    queryKey: ["exports", companyId],
    enabled: open,
    queryFn: () => answer(client.GET(`${COMPANY}/exports`, { params: { path } })),
  });
  const add = useMutation({
    mutationFn: () => answer(client.POST(`${COMPANY}/exports`, { params: { path }, body: period })),
    onSuccess: refresh,
  });
  const file = (id: number, form: string) => `/api/companies/${companyId}/exports/${id}?format=${form}`;
  return (
    <>
      <button type="button" className="font-semibold text-wine" onClick={() => setOpen(true)}>
        Export entries
      </button>
      {open && (
        <Dialog title="Entries recorded here, for books kept elsewhere" open onClose={() => setOpen(false)}>
          {rights.includes("prepare") && (
            <form
              className="flex items-end gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                add.mutate();
              }}
            >
              {(["start", "end"] as const).map((side) => (
                <Field
                  key={side}
                  label={side === "start" ? "From" : "To"}
                  type="date"
                  required
                  value={period[side]}
                  onChange={(event) => setPeriod({ ...period, [side]: event.target.value })}
                />
              ))}
              <Button weight="main" type="submit" disabled={add.isPending}>
                Export what is new
              </Button>
            </form>
          )}
          {add.error && <Trouble>{add.error.message}</Trouble>}
          <ul className="mt-3">
            {made.data?.map((batch) => (
              <li key={batch.id} className="flex items-baseline gap-3 border-b border-hair py-1">
                <span className="flex-1">
                  {longDay(batch.start, locale)} – {longDay(batch.end, locale)}
                  <span className="block text-xs text-muted">
                    {batch.journals === 1 ? "one journal" : `${batch.journals} journals`}, {batch.made_by}
                  </span>
                </span>
                <a className="font-semibold text-wine" href={file(batch.id, "csv")}>
                  CSV
                </a>
                <a className="font-semibold text-wine" href={file(batch.id, "xlsx")}>
                  XLSX
                </a>
              </li>
            ))}
          </ul>
          {made.data?.length === 0 && <p className="mt-3 text-muted">Nothing has been exported yet.</p>}
        </Dialog>
      )}
    </>
  );
}

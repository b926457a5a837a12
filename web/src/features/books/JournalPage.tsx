import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import { answer, client, type Schemas } from "../../api/client";
import { accountPath } from "../../app/places";
import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { longDay } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Empty, Trouble } from "../../ui/controls";
import { useRefresh } from "../statements/statements";
import { FileLink } from "./FileLink";
import { JournalDialog } from "./JournalDialog";
import { LedgerPanel } from "./LedgerPanel";

export type Journal = Schemas["JournalOut"];

export const JOURNAL = "/api/companies/{company_id}/journal";

// More would make the page slow; fewer days show the rest.
const SHOWN = 400;

/** The journal: every entry of some days with its lines, and general entries made here. */
export function JournalPage() {
  const companyId = Number(useParams().companyId);
  const company = useCompany(companyId);
  const day = useSearchParams()[0].get("day");
  const [period, setPeriod] = useState(() => (day === null ? lastTwoMonths() : { start: day, end: day }));
  const [general, setGeneral] = useState(false);
  const [editing, setEditing] = useState<Journal | "new" | null>(null);
  const found = useQuery({
    queryKey: ["journal", companyId, period],
    enabled: period.start !== "" && period.end !== "",
    queryFn: () => answer(client.GET(JOURNAL, { params: { path: { company_id: companyId }, query: period } })),
  });
  const [file, setFile] = useState<File | null>(null);
  const may = company.rights.includes("prepare");
  const shown = (found.data ?? []).filter((journal) => !general || (journal.entry_id === null && !journal.opening));
  const bound = (name: "start" | "end", words: string) => (
    <label className="flex items-center gap-1.5 text-muted">
      {words}
      <input
        type="date"
        value={period[name]}
        onChange={(event) => setPeriod({ ...period, [name]: event.target.value })}
        className="rounded border border-line bg-sheet px-1 py-0.5 text-ink"
      />
    </label>
  );
  if (file) {
    return (
      <Shell>
        <LedgerPanel companyId={companyId} file={file} onClose={() => setFile(null)} />
      </Shell>
    );
  }
  return (
    <Shell>
      <main className="flex h-full flex-col px-6 pt-5">
        <div className="mb-3 flex items-center gap-4">
          <h1 className="text-xl font-bold">Journal · {company.name}</h1>
          {bound("start", "from")}
          {bound("end", "to")}
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-wine"
              checked={general}
              onChange={(event) => setGeneral(event.target.checked)}
            />
            general entries only
          </label>
          <Link className="ml-auto font-semibold text-wine" to={`/company/${companyId}/ledger`}>
            Ledger
          </Link>
          {may && <FileLink words="Read in a ledger's detail" onChoose={setFile} />}
          {may && (
            <Button weight="main" onClick={() => setEditing("new")}>
              New journal entry
            </Button>
          )}
        </div>
        {found.error && <Trouble>{found.error.message}</Trouble>}
        <div className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={0} aria-label="Journal entries">
          {found.data && shown.length === 0 && (
            <Empty title="No journal entry in these days">Choose other days, or make an entry.</Empty>
          )}
          <table className="w-full border-collapse" hidden={shown.length === 0}>
            <thead>
              <tr className="border-b border-line text-left text-xs text-muted">
                <th className="w-28 py-1 pl-3 font-normal">Date</th>
                <th className="w-16 font-normal">Journal</th>
                <th className="font-normal">Memo · account</th>
                <th className="w-32 text-right font-normal">Debit in the books</th>
                <th className="w-32 text-right font-normal">Credit in the books</th>
                <th className="w-44" />
              </tr>
            </thead>
            <tbody>
              {shown.slice(0, SHOWN).map((journal) => (
                <JournalRows key={journal.id} companyId={companyId} journal={journal} may={may} onChange={setEditing} />
              ))}
            </tbody>
          </table>
          {shown.length > SHOWN && (
            <p className="p-3 text-muted">… and {shown.length - SHOWN} more: choose fewer days to see them.</p>
          )}
        </div>
      </main>
      {editing && (
        <JournalDialog
          companyId={companyId}
          known={editing === "new" ? undefined : editing}
          onClose={() => setEditing(null)}
        />
      )}
    </Shell>
  );
}

/** From the first of the month before this one, which is the one being closed, to today. */
function lastTwoMonths() {
  const now = new Date();
  const start = new Date(Date.UTC(now.getFullYear(), now.getMonth() - 1, 1));
  const end = new Date(Date.UTC(now.getFullYear(), now.getMonth(), now.getDate()));
  return { start: start.toISOString().slice(0, 10), end: end.toISOString().slice(0, 10) };
}

interface JournalRowsProps {
  companyId: number;
  journal: Journal;
  may: boolean;
  onChange: (journal: Journal) => void;
}

function JournalRows({ companyId, journal, may, onChange }: JournalRowsProps) {
  const { locale, currency } = useCompany(companyId);
  const refresh = useRefresh();
  const remove = useMutation({
    mutationFn: () =>
      answer(
        client.DELETE(`${JOURNAL}/{journal_id}`, {
          params: { path: { company_id: companyId, journal_id: journal.id } },
        }),
      ),
    onSuccess: refresh,
  });
  const write = (amount: number) => money(amount, currency, locale);
  const general = journal.entry_id === null && !journal.opening;
  return (
    <>
      <tr className="h-7 border-t border-line">
        <td className="pl-3 text-muted">{longDay(journal.date, locale)}</td>
        <td className="figure text-xs">{journal.id}</td>
        <td className="font-semibold" colSpan={3}>
          {journal.memo}
          {remove.error && <span className="ml-2 font-normal text-ember">{remove.error.message}</span>}
        </td>
        <td className="pr-3 text-right">
          {journal.bank_account_id !== null && (
            <Link className="text-wine" to={accountPath(companyId, journal.bank_account_id, "books")}>
              from the bank book
            </Link>
          )}
          {journal.opening && <span className="text-muted">opening balance</span>}
          {general && may && (
            <>
              <Button weight="quiet" onClick={() => onChange(journal)}>
                Change
              </Button>
              <Button weight="quiet" disabled={remove.isPending} onClick={() => remove.mutate()}>
                Delete
              </Button>
            </>
          )}
        </td>
      </tr>
      {journal.lines.map((line, n) => (
        <tr key={n} className="h-6">
          <td />
          <td />
          <td>
            <span className="figure text-xs">{line.number}</span> {line.name}
            {line.memo && line.memo !== journal.memo && <span className="text-muted"> · {line.memo}</span>}
          </td>
          <td className="figure text-right">{line.amount > 0 ? write(line.amount) : ""}</td>
          <td className="figure text-right">{line.amount < 0 ? write(-line.amount) : ""}</td>
          <td />
        </tr>
      ))}
    </>
  );
}

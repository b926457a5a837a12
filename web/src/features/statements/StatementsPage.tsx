import { useMutation } from "@tanstack/react-query";
import { useRef, useState, type DragEvent } from "react";
import { Link, useNavigate } from "react-router";

import { AccountPage } from "../../app/AccountPage";
import { spinePath, useReconciliations, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { longDay } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Empty, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useNotices } from "../../ui/Notices";
import { BankButtons } from "../bank/BankButtons";
import { OriginalView } from "../evidence/OriginalView";
import { HeadDialog } from "./HeadDialog";
import { ReadingPanel } from "./ReadingPanel";
import { correctHead, typeStatement, useRefresh, useStatements, withdrawStatement, type Statement } from "./statements";

export function StatementsPage() {
  return <AccountPage>{(place) => <Statements key={place.account.id} place={place} />}</AccountPage>;
}

function Statements({ place }: { place: Place }) {
  const [file, setFile] = useState<File | null>(null);
  const [typing, setTyping] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const list = useStatements(place);
  const company = useCompany(place.companyId);
  const counted = place.account.kind === "cash";
  const may = company.rights.includes("prepare");
  const drop = (event: DragEvent) => {
    event.preventDefault();
    const dropped = event.dataTransfer.files[0];
    if (dropped && may) setFile(dropped);
  };
  if (file) return <ReadingPanel place={place} file={file} onClose={() => setFile(null)} />;
  return (
    <main className="h-full overflow-auto px-6 pt-5" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <div className="mb-4 flex items-center gap-3">
        <h1 className="mr-auto text-xl font-bold">Statements</h1>
        {may && (
          <>
            {!counted && <BankButtons companyId={place.companyId} accountId={place.account.id} />}
            {!counted && (
              <Button weight="main" onClick={() => chooser.current?.click()}>
                Read a statement file
              </Button>
            )}
            <Button weight={counted ? "main" : "plain"} onClick={() => setTyping(true)}>
              {counted ? "Enter the counted balance" : "Type one from paper"}
            </Button>
          </>
        )}
        <input
          ref={chooser}
          type="file"
          className="sr-only"
          tabIndex={-1}
          aria-label="Statement file"
          onChange={(event) => {
            setFile(event.target.files?.[0] ?? null);
            event.target.value = "";
          }}
        />
      </div>
      {list.error && <Trouble>{list.error.message}</Trouble>}
      {list.data?.length === 0 && (
        <Empty title="No statement yet">
          {counted
            ? "Count the box and enter its balance; then tick what went in and out."
            : "Read the file your bank hands out (OFX, or the plain table), drop it here, or type the balances from paper."}
        </Empty>
      )}
      {list.data && list.data.length > 0 && <List place={place} statements={list.data} may={may} />}
      {typing && list.data && <Typing place={place} onClose={() => setTyping(false)} statements={list.data} />}
    </main>
  );
}

function dayAfter(iso: string): string {
  const day = new Date(`${iso}T00:00:00Z`);
  day.setUTCDate(day.getUTCDate() + 1);
  return day.toISOString().slice(0, 10);
}

function Typing({ place, statements, onClose }: { place: Place; statements: Statement[]; onClose: () => void }) {
  const navigate = useNavigate();
  const refresh = useRefresh();
  const counted = place.account.kind === "cash";
  const last = statements.at(-1);
  return (
    <HeadDialog
      title={counted ? "Counted balance" : "Statement from paper"}
      currency={place.account.currency}
      counted={counted}
      known={{
        start: dayAfter(last?.end ?? place.account.starting_date),
        opening: counted ? null : (last?.closing ?? place.account.starting_balance),
      }}
      onClose={onClose}
      onSave={async (head, confirmed) => {
        const stored = await typeStatement(place, { ...head, confirmed: confirmed as never[] });
        await refresh();
        await navigate(spinePath(place.companyId, stored.reconciliation_id));
      }}
    />
  );
}

function List({ place, statements, may }: { place: Place; statements: Statement[]; may: boolean }) {
  const { locale } = useCompany(place.companyId);
  const { currency } = place.account;
  const [correcting, setCorrecting] = useState<Statement | null>(null);
  const [original, setOriginal] = useState<Statement | null>(null);
  const refresh = useRefresh();
  const notices = useNotices();
  const withdraw = useMutation({
    mutationFn: (statement: Statement) => withdrawStatement(place.companyId, statement.id),
    onSuccess: async () => {
      notices.say("Statement withdrawn.");
      await refresh();
    },
    onError: notices.fail,
  });
  const write = (amount: number | null) => (amount === null ? "" : money(amount, currency, locale));
  const reconciliations = useReconciliations(place.companyId, place.account.id);
  const sealed = (item: Statement) =>
    reconciliations.data?.find((r) => r.id === item.reconciliation_id)?.sealed ?? false;
  return (
    <>
      <table className="w-full border-collapse">
        <thead className="text-left text-xs text-muted">
          <tr className="border-b border-line">
            <th className="px-2 py-2 font-normal">Period</th>
            <th className="text-right font-normal">Opening</th>
            <th className="text-right font-normal">Closing</th>
            <th className="pl-8 text-right font-normal">Lines</th>
            <th className="pl-8 font-normal">Foots</th>
            <th className="pl-8 font-normal">Original</th>
            <th className="font-normal">Stored</th>
            <th className="font-normal">Write as</th>
            <th>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody className="bg-sheet">
          {[...statements].reverse().map((item) => (
            <tr key={item.id} className="h-9 border-b border-hair">
              <td className="px-2">
                <Link className="font-semibold hover:text-wine" to={spinePath(place.companyId, item.reconciliation_id)}>
                  {longDay(item.start, locale)} – {longDay(item.end, locale)}
                </Link>
              </td>
              <td className="figure text-right" title={item.opening_derived ? "worked out from closing and lines" : ""}>
                {item.opening === null ? <span className="font-sans text-muted">not stated</span> : write(item.opening)}
              </td>
              <td className="figure text-right">{write(item.closing)}</td>
              <td className="figure pl-8 text-right">{item.line_count || "–"}</td>
              <td className="pl-8">{item.foots === null ? "cannot be told" : item.foots ? "yes" : "no"}</td>
              <td className="pl-8">
                {item.file_name ? (
                  <button
                    type="button"
                    className="font-semibold text-wine"
                    title={`SHA-256 ${item.file_sha256 ?? ""}`}
                    onClick={() => setOriginal(item)}
                  >
                    {item.file_name}
                  </button>
                ) : (
                  <span className="text-muted">
                    {item.format === "counted" ? "counted" : item.format === "feed" ? "bank's service" : "from paper"}
                  </span>
                )}
              </td>
              <td className="text-muted">{item.created_by}</td>
              <td className="whitespace-nowrap">
                {item.line_count > 0 && <WriteOut companyId={place.companyId} statementId={item.id} />}
              </td>
              <td className="pr-2 text-right whitespace-nowrap">
                {sealed(item) && <span className="text-muted">sealed</span>}
                {may && !sealed(item) && (
                  <>
                    <Button weight="quiet" onClick={() => setCorrecting(item)}>
                      Correct
                    </Button>
                    <Button weight="quiet" onClick={() => withdraw.mutate(item)}>
                      Withdraw
                    </Button>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {original && (
        <Dialog title="Original" open wide onClose={() => setOriginal(null)}>
          <OriginalView companyId={place.companyId} statementId={original.id} />
        </Dialog>
      )}
      {correcting && (
        <HeadDialog
          title="Correct the statement's head"
          currency={currency}
          counted={correcting.format === "counted"}
          known={{ ...correcting, opening: correcting.opening_derived ? null : correcting.opening }}
          onClose={() => setCorrecting(null)}
          onSave={async (head) => {
            await correctHead(place.companyId, correcting.id, head);
            await refresh();
          }}
        />
      )}
    </>
  );
}

const WRITTEN = [
  ["csv", "CSV"],
  ["ofx", "OFX"],
  ["camt.053", "camt.053"],
  ["xlsx", "XLSX"],
] as const;

/** The statement in an open format. */
function WriteOut({ companyId, statementId }: { companyId: number; statementId: number }) {
  return (
    <span className="flex gap-2 text-xs">
      {WRITTEN.map(([form, words]) => (
        <a
          key={form}
          className="inline-flex min-h-6 items-center text-wine"
          href={`/api/companies/${companyId}/statements/${statementId}/write?format=${form}`}
        >
          {words}
        </a>
      ))}
    </span>
  );
}

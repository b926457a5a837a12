import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";

import { answer, client, type Schemas } from "../../api/client";
import { placeOf, useBoard } from "../../app/places";
import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { longDay, moment } from "../../format/dates";
import { money } from "../../format/money";
import { Trouble } from "../../ui/controls";
import { Ring } from "../../ui/Ring";
import { EvidenceCard } from "../evidence/EvidenceCard";

type Report = Schemas["ReportOut"];
type Figure = Schemas["FigureOut"];
type Item = Schemas["ItemOut"];

export function PapersPage() {
  const params = useParams();
  const companyId = Number(params.companyId);
  const reconciliationId = Number(params.reconciliationId);
  const path = { company_id: companyId, reconciliation_id: reconciliationId };
  const report = useQuery({
    queryKey: ["report", companyId, reconciliationId],
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/reconciliations/{reconciliation_id}/report", { params: { path } }),
      ),
  });
  const spine = useQuery({
    queryKey: ["spine", companyId, reconciliationId],
    queryFn: () =>
      answer(client.GET("/api/companies/{company_id}/reconciliations/{reconciliation_id}/spine", { params: { path } })),
  });
  const company = useCompany(companyId);
  const board = useBoard();
  const place = placeOf(board.data, companyId, spine.data?.account.id ?? 0);
  return (
    <Shell place={place} reconciliationId={reconciliationId}>
      <main className="h-full overflow-auto px-6 py-6 print:overflow-visible print:p-0">
        {report.error && <Trouble>{report.error.message}</Trouble>}
        {report.data && <Paper report={report.data} companyId={companyId} reconciliationId={reconciliationId} />}
        <div className="no-print mx-auto mt-4 max-w-4xl">
          <EvidenceCard
            holder={{ companyId, entity: "reconciliation", id: reconciliationId }}
            locale={company.locale}
            may={company.rights.includes("prepare")}
          />
        </div>
      </main>
    </Shell>
  );
}

interface PaperProps {
  report: Report;
  companyId: number;
  reconciliationId: number;
}

function Paper({ report, companyId, reconciliationId }: PaperProps) {
  const { locale } = useCompany(companyId);
  const write = (minor: number) => money(minor, report.currency, locale);
  const books = report.book_side.at(-1)?.amount ?? 0;
  const off = report.gl_balance === null ? 0 : report.gl_balance - books;
  const where = [report.bank, report.number && `account ${report.number}`, report.currency].filter(Boolean).join(" · ");
  return (
    <article className="mx-auto max-w-4xl border border-line bg-sheet px-10 py-8 shadow-sm print:border-0 print:shadow-none">
      <header className="mb-5 flex items-start gap-4">
        <div className="flex-1">
          <h1 className="text-xl font-bold">
            {report.company} · {report.account}
          </h1>
          <p className="text-base">
            Bank reconciliation to <b>{longDay(report.end, locale)}</b>, from {longDay(report.start, locale)}
          </p>
          <p className="text-muted">{where}</p>
        </div>
        <a
          className="no-print rounded-md border border-wine bg-wine px-3 py-1.5 font-semibold text-on-wine"
          href={`/api/companies/${companyId}/reconciliations/${reconciliationId}/report/report.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Open the PDF
        </a>
      </header>
      <Seal report={report} locale={locale} />
      <div className="mt-6 grid grid-cols-3 gap-10">
        <Figures title="Statement and books" figures={report.statement_equation} write={write} />
        <Figures title="Bank side" figures={report.bank_side} write={write} />
        <div>
          <Figures title="Book side" figures={report.book_side} write={write} />
          <p className={`mt-2 ${off ? "text-ember" : "text-muted"}`}>
            Ledger, account {report.gl_account}:{" "}
            <span className="figure">{report.gl_balance === null ? "kept elsewhere" : write(report.gl_balance)}</span>
            {off ? `, ${write(off)} against the bank book` : ", agrees"}
          </p>
        </div>
      </div>
      <Items
        title={`Outstanding at ${longDay(report.end, locale)}`}
        items={report.outstanding}
        write={write}
        locale={locale}
        cleared={false}
      />
      <Items title="Cleared" items={report.cleared} write={write} locale={locale} cleared />
    </article>
  );
}

function Seal({ report, locale }: { report: Report; locale: string }) {
  return (
    <div className="flex items-center gap-4 rounded-lg border border-line bg-paper px-4 py-3">
      <Ring ring={{ state: report.sealed ? "sealed" : "in work", done: 1, of: 2 }} size={44} />
      <div className="min-w-0">
        {report.sealed ? (
          <>
            <p>
              <b>Sealed</b> by {report.prepared_by}, {moment(report.prepared_at, locale)} · seal {report.seal_number} of
              this account
            </p>
            <p className="figure truncate text-xs text-muted" title="SHA-256 over the content and the seal before it">
              {report.fingerprint}
            </p>
          </>
        ) : (
          <p>
            <b>Not sealed.</b> As it stands now.
          </p>
        )}
        {report.files.map((file) => (
          <p key={file} className="truncate text-xs text-muted" title={file}>
            {file}
          </p>
        ))}
      </div>
    </div>
  );
}

interface FiguresProps {
  title: string;
  figures: Figure[];
  write: (minor: number) => string;
}

function Figures({ title, figures, write }: FiguresProps) {
  return (
    <section>
      <h2 className="mb-1 font-bold text-wine">{title}</h2>
      <dl>
        {figures.map((figure) => (
          <div
            key={figure.label}
            className={`flex justify-between gap-3 py-0.5 ${figure.total ? "border-t border-ink font-bold" : ""}`}
          >
            <dt>{figure.label}</dt>
            <dd className="figure">{write(figure.amount)}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

interface ItemsProps {
  title: string;
  items: Item[];
  write: (minor: number) => string;
  locale: string;
  cleared: boolean;
}

function Items({ title, items, write, locale, cleared }: ItemsProps) {
  const total = items.reduce((sum, item) => sum + item.amount, 0);
  return (
    <section className="mt-7">
      <h2 className="mb-1 font-bold text-wine">
        {title} ({items.length})
      </h2>
      <table className="w-full border-collapse">
        <thead className="text-left text-xs text-muted">
          <tr className="border-b border-line">
            <th className="w-28 py-1 font-normal">Book date</th>
            {cleared && <th className="w-28 font-normal">Bank date</th>}
            <th className="w-20 font-normal">Reference</th>
            <th className="font-normal">Payee or text</th>
            <th className="font-normal">{cleared ? "Why" : "Age"}</th>
            <th className="w-28 text-right font-normal">Amount</th>
          </tr>
        </thead>
        <tbody>
          {items.map((item, index) => (
            <tr key={index} className="border-b border-hair">
              <td className="py-0.5">{item.date && longDay(item.date, locale)}</td>
              {cleared && <td>{item.bank_date && longDay(item.bank_date, locale)}</td>}
              <td className="figure text-xs">{item.reference}</td>
              <td>{item.text}</td>
              <td className="text-xs text-muted">{item.note}</td>
              <td className="figure text-right">{write(item.amount)}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr className="border-t border-ink font-bold">
            <td colSpan={cleared ? 5 : 4} className="py-1">
              Total
            </td>
            <td className="figure text-right">{write(total)}</td>
          </tr>
        </tfoot>
      </table>
    </section>
  );
}

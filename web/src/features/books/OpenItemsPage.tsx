import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useParams } from "react-router";

import { answer, client, postFile, type Schemas } from "../../api/client";
import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { longDay } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Empty, Select, Trouble } from "../../ui/controls";
import { useRefresh } from "../statements/statements";
import { useGlAccounts } from "./books";

/** Unpaid invoices and bills of a company, and getting them in. */
export function OpenItemsPage() {
  const companyId = Number(useParams().companyId);
  const company = useCompany(companyId);
  const accounts = useGlAccounts(companyId);
  const refresh = useRefresh();
  const chooser = useRef<HTMLInputElement>(null);
  const [invoices, setInvoices] = useState("");
  const [bills, setBills] = useState("");
  const [settled, setSettled] = useState(false);
  const items = useQuery({
    queryKey: ["open items", companyId],
    queryFn: () =>
      answer(client.GET("/api/companies/{company_id}/open-items", { params: { path: { company_id: companyId } } })),
  });
  const load = useMutation({
    mutationFn: (file: File) =>
      postFile<Schemas["ImportedItems"]>(`/api/companies/${companyId}/open-items`, file, {
        invoice_account_id: invoices || null,
        bill_account_id: bills || null,
      }),
    onSuccess: refresh,
  });
  const choices = [
    ["", "account …"],
    ...(accounts.data ?? []).map((a) => [String(a.id), `${a.number} ${a.name}`] as const),
  ] as const;
  const shown = (items.data ?? []).filter((item) => settled || item.open > 0);
  return (
    <Shell>
      <main className="h-full overflow-auto px-6 pt-5 pb-10">
        <div className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2">
          <h1 className="text-xl font-bold">Open items · {company.name}</h1>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-wine"
              checked={settled}
              onChange={(event) => setSettled(event.target.checked)}
            />
            settled ones too
          </label>
          {company.rights.includes("prepare") && (
            <span className="ml-auto flex flex-wrap items-center gap-3">
              <Select inline label="Invoices on" value={invoices} options={choices} onChange={setInvoices} />
              <Select inline label="Bills on" value={bills} options={choices} onChange={setBills} />
              <Button weight="main" onClick={() => chooser.current?.click()}>
                Import
              </Button>
            </span>
          )}
          <input
            ref={chooser}
            type="file"
            accept=".csv,text/csv"
            className="sr-only"
            tabIndex={-1}
            aria-label="Open items file"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) load.mutate(file);
              event.target.value = "";
            }}
          />
        </div>
        {load.error && <Trouble>{load.error.message}</Trouble>}
        {load.data && (
          <p role="status" className="mb-2">
            {load.data.new} new, {load.data.known} known already.
            {load.data.held.length > 0 && ` Held back, as they say otherwise now: ${load.data.held.join(", ")}.`}
          </p>
        )}
        {items.data?.length === 0 && (
          <Empty title="No open items yet">
            Import unpaid invoices and bills (id, kind, party, number, date, due, amount, currency); the Spine then
            offers them where a line settles them.
          </Empty>
        )}
        {shown.length > 0 && (
          <table className="w-full border-collapse bg-sheet">
            <thead className="text-left text-xs text-muted">
              <tr className="border-b border-line">
                <th className="px-3 py-1.5 font-normal">Kind</th>
                <th className="font-normal">Number</th>
                <th className="font-normal">Party</th>
                <th className="font-normal">Of</th>
                <th className="font-normal">Due</th>
                <th className="text-right font-normal">Amount</th>
                <th className="pr-3 text-right font-normal">Still open</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((item) => (
                <tr key={item.id} className={`h-7 border-b border-hair ${item.open ? "" : "text-muted"}`}>
                  <td className="px-3">{item.kind}</td>
                  <td className="figure text-xs">{item.number}</td>
                  <td>{item.party}</td>
                  <td>{longDay(item.issued, company.locale)}</td>
                  <td>{longDay(item.due, company.locale)}</td>
                  <td className="figure text-right">{money(item.amount, company.currency, company.locale)}</td>
                  <td className="figure pr-3 text-right">
                    {item.open ? money(item.open, company.currency, company.locale) : "settled"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </Shell>
  );
}

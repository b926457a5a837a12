import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { longDay } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Trouble } from "../../ui/controls";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";
import { AccountChoice } from "./AccountChoice";
import { importBook, previewImport, useGlAccounts, type BookImport } from "./books";

const STATES: Record<BookImport["rows"][number]["state"], string> = {
  new: "new",
  same: "known",
  changed: "changed",
  held: "left alone",
};

/** What a bank book file would bring, before it is stored. */
export function ImportPanel({ place, file, onClose }: { place: Place; file: File; onClose: () => void }) {
  const { locale } = useCompany(place.companyId);
  const { currency } = place.account;
  const accounts = useGlAccounts(place.companyId);
  const refresh = useRefresh();
  const notices = useNotices();
  const [other, setOther] = useState<number | null>(null);
  const preview = useQuery({
    queryKey: ["book-import", place.companyId, place.account.id, file.name, file.size, file.lastModified],
    queryFn: () => previewImport(place, file),
    gcTime: 0,
  });
  const store = useMutation({
    mutationFn: () => importBook(place, file, other),
    onSuccess: async (found) => {
      notices.say(`${found.new} entries added, ${found.changed} changed.`);
      await refresh();
      onClose();
    },
  });
  const found = preview.data;
  return (
    <div className="grid h-full grid-cols-[23rem_1fr]">
      <section className="flex flex-col gap-4 border-r border-line bg-sheet p-5" aria-label="What was understood">
        <div>
          <h1 className="text-base font-bold break-all">{file.name}</h1>
          <p className="text-muted">Nothing is stored yet.</p>
        </div>
        {preview.error && <Trouble>{preview.error.message}</Trouble>}
        {found && (
          <>
            <dl className="grid grid-cols-[1fr_auto] gap-y-1.5">
              {(
                [
                  ["New entries", String(found.new)],
                  ["Their total", money(found.total, currency, locale)],
                  ["Changed, will be carried over", String(found.changed)],
                  ["Known already", String(found.same)],
                  ["Changed, but left alone", String(found.held)],
                ] as const
              ).map(([name, value]) => (
                <div key={name} className="contents">
                  <dt className="text-muted">{name}</dt>
                  <dd className="figure text-right">{value}</dd>
                </div>
              ))}
            </dl>
            <AccountChoice
              label="Post new entries in the ledger against"
              none="nothing: the ledger is kept elsewhere"
              accounts={accounts.data ?? []}
              value={other}
              onChange={setOther}
            />
          </>
        )}
        {store.error && <Trouble>{store.error.message}</Trouble>}
        <div className="mt-auto flex gap-2">
          <Button
            weight="main"
            className="flex-1"
            disabled={!found || store.isPending || !(found.new + found.changed)}
            onClick={() => store.mutate()}
          >
            {found && !(found.new + found.changed) ? "Nothing new to store" : "Store"}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </section>
      <section className="overflow-auto" aria-label="Rows of the file">
        <table className="w-full border-collapse">
          <tbody className="bg-sheet">
            {found?.rows.map((row) => (
              <tr key={row.id} className={`h-7 border-b border-hair ${row.state === "same" ? "text-muted" : ""}`}>
                <td className="pl-5 whitespace-nowrap">{longDay(row.date, locale)}</td>
                <td className="figure text-xs">{row.reference}</td>
                <td>
                  {row.payee} <span className="text-muted">{row.memo}</span>
                </td>
                <td className="figure text-right">{money(row.amount, currency, locale)}</td>
                <td className="pr-5 pl-6">
                  {STATES[row.state]}
                  {row.was && <span className="text-muted">: {row.was}</span>}
                  {row.why && <span className="text-muted">, {row.why}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}

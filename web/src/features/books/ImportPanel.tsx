import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Trouble } from "../../ui/controls";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";
import { AccountChoice } from "./AccountChoice";
import { importBook, previewImport, useGlAccounts, type Absent, type BookImport } from "./books";
import { ColumnsForm, columnsField, TableSample, type Columns } from "./ColumnsForm";
import { Differences } from "./Differences";

const DOUBTS: Record<BookImport["doubts"][number], string> = {
  "turned signs": "The entries known here have the opposite sign in this file: positive must be money in.",
  "other account": "These entries belong to another bank account of this company, none to this one.",
};

/** What a bank book file says that is not known here, by consequence, before anything is applied. */
export function ImportPanel({ place, file, onClose }: { place: Place; file: File; onClose: () => void }) {
  const { locale, rights } = useCompany(place.companyId);
  const { currency } = place.account;
  const accounts = useGlAccounts(place.companyId);
  const refresh = useRefresh();
  const notices = useNotices();
  const [other, setOther] = useState<number | null>(null);
  const [gone, setGone] = useState<Absent | null>(null);
  const [outside, setOutside] = useState<Absent | null>(null);
  const [columns, setColumns] = useState<Columns | null>(null);
  const preview = useQuery({
    queryKey: ["book-import", place.companyId, place.account.id, file.name, file.size, file.lastModified, columns],
    queryFn: () => previewImport(place, file, columnsField(columns)),
    placeholderData: (last) => last,
    gcTime: 0,
    retry: false,
  });
  const found = preview.data;
  const rows = found?.rows ?? [];
  const of = (change: BookImport["rows"][number]["change"]) => rows.filter((row) => row.change === change);
  const missing = { gone: of("gone").length, outside: of("outside").length };
  const taken = rows.filter(
    ({ change }) =>
      ["new", "changed", "back", "returned"].includes(change) ||
      (change === "gone" && gone === "remove") ||
      (change === "outside" && outside === "remove"),
  );
  const sealed = taken.filter(({ touches, change }) => touches === "sealed" && change !== "returned").length;
  const table = found?.table ?? null;
  const untold = table !== null && table.missing.length > 0;
  const asked = (missing.gone > 0 && gone === null) || (missing.outside > 0 && outside === null);
  const barred = sealed > 0 && !rights.includes("alter");
  const store = useMutation({
    mutationFn: () => importBook(place, file, { other, gone, outside, columns: columnsField(columns) }),
    onSuccess: async () => {
      notices.say(`${counted(taken.length, "difference")} taken over.`);
      await refresh();
      onClose();
    },
  });
  return (
    <div className="grid h-full grid-cols-[23rem_1fr]">
      <section
        className="flex flex-col gap-4 overflow-auto border-r border-line bg-sheet p-5"
        aria-label="What was understood"
      >
        <div>
          <h1 className="text-base font-bold break-all">{file.name}</h1>
          <p className="text-muted">Compared with the bank book. Nothing is stored yet.</p>
        </div>
        {preview.error && <Trouble>{preview.error.message}</Trouble>}
        {found?.doubts.map((doubt) => (
          <Trouble key={doubt}>{DOUBTS[doubt]} Nothing can be taken over.</Trouble>
        ))}
        {table && <ColumnsForm table={table} stated={columns} onChange={setColumns} />}
        {found && !untold && (
          <>
            <dl className="grid grid-cols-[1fr_auto] gap-y-1.5">
              {(
                [
                  ["New entries", String(found.new)],
                  ["Their total", money(found.new_total, currency, locale)],
                  ["Changed", String(of("changed").length)],
                  ["Recorded here, come back", String(of("returned").length)],
                  ["No longer in the file", String(missing.gone)],
                  ["Known already, the same", String(found.same)],
                ] as const
              ).map(([name, value]) => (
                <div key={name} className="contents">
                  <dt className="text-muted">{name}</dt>
                  <dd className="figure text-right">{value}</dd>
                </div>
              ))}
            </dl>
            {missing.gone > 0 && (
              <Question
                words={`${counted(missing.gone, "entry", "entries")} known here ${missing.gone === 1 ? "is" : "are"} no longer in the file.`}
                value={gone}
                onChange={setGone}
              />
            )}
            {missing.outside > 0 && (
              <Question
                words={`The file covers fewer days than are known here: ${counted(missing.outside, "entry", "entries")} outside them.`}
                value={outside}
                onChange={setOutside}
              />
            )}
            {found.new > 0 && (
              <AccountChoice
                label="Post new entries in the ledger against"
                none="nothing: the ledger is kept elsewhere"
                accounts={accounts.data ?? []}
                value={other}
                onChange={setOther}
              />
            )}
            {sealed > 0 && (
              <p className="rounded-md border border-line bg-ember-soft px-3 py-2">
                {counted(sealed, "difference changes", "differences change")} sealed periods:{" "}
                {sealed === 1 ? "it stands" : "they stand"} in the opening trace afterwards.
                {barred && " You do not have the right to alter sealed entries."}
              </p>
            )}
          </>
        )}
        {store.error && <Trouble>{store.error.message}</Trouble>}
        <div className="mt-auto flex gap-2">
          <Button
            weight="main"
            className="flex-1"
            disabled={
              !found ||
              untold ||
              preview.error !== null ||
              found.doubts.length > 0 ||
              store.isPending ||
              asked ||
              barred ||
              !taken.length
            }
            onClick={() => store.mutate()}
          >
            {found && !untold && !taken.length && !asked ? "Nothing to take over" : `Take over ${taken.length || ""}`}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </section>
      {table && untold ? (
        <TableSample table={table} />
      ) : (
        <Differences rows={rows} currency={currency} locale={locale} />
      )}
    </div>
  );
}

/** What becomes of entries that the file lacks. */
function Question({
  words,
  value,
  onChange,
}: {
  words: string;
  value: Absent | null;
  onChange: (value: Absent) => void;
}) {
  return (
    <fieldset className="rounded-md border border-line bg-paper px-3 py-2">
      <legend className="sr-only">{words}</legend>
      <p>{words}</p>
      {(
        [
          ["keep", "just not in the file: keep them"],
          ["remove", "removed there: remove them here"],
        ] as const
      ).map(([answer, label]) => (
        <label key={answer} className="mt-1 flex items-center gap-2">
          <input type="radio" className="accent-wine" checked={value === answer} onChange={() => onChange(answer)} />
          {label}
        </label>
      ))}
    </fieldset>
  );
}

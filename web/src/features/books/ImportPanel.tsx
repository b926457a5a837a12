import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted } from "../../format/dates";
import { money } from "../../format/money";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";
import { AccountChoice } from "./AccountChoice";
import { importBook, previewImport, useGlAccounts, type Absent, type BookImport } from "./books";
import { columnsField, type Columns } from "./ColumnsForm";
import { absentQuestions, ComparedFile, takenOf } from "./ComparedFile";
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
  const number = (change: BookImport["rows"][number]["change"]) => rows.filter((row) => row.change === change).length;
  const taken = takenOf(rows, gone, outside);
  const sealed = taken.filter(({ alters }) => alters).length;
  const store = useMutation({
    mutationFn: () => importBook(place, file, { other, gone, outside, columns: columnsField(columns) }),
    onSuccess: async () => {
      notices.say(`${counted(taken.length, "difference")} taken over.`);
      await refresh();
      onClose();
    },
  });
  return (
    <ComparedFile
      file={file}
      against="the bank book"
      table={found && found.table}
      columns={columns}
      onColumns={setColumns}
      troubles={[
        ...(preview.error ? [preview.error.message] : []),
        ...(found?.doubts ?? []).map((doubt) => `${DOUBTS[doubt]} Nothing can be taken over.`),
      ]}
      facts={[
        ["New entries", String(found?.new ?? 0)],
        ["Their total", money(found?.new_total ?? 0, currency, locale)],
        ["Changed", String(number("changed"))],
        ["Recorded here, come back", String(number("returned"))],
        ["No longer in the file", String(number("gone"))],
        ["Known already, the same", String(found?.same ?? 0)],
      ]}
      questions={absentQuestions(
        "entry",
        "entries",
        { number: number("gone"), value: gone, onChange: setGone },
        { number: number("outside"), value: outside, onChange: setOutside },
      )}
      asking={
        found && found.new > 0 ? (
          <AccountChoice
            label="Post new entries in the ledger against"
            none="nothing: the ledger is kept elsewhere"
            accounts={accounts.data ?? []}
            value={other}
            onChange={setOther}
          />
        ) : null
      }
      taken={taken.length}
      altering={sealed}
      mayAlter={rights.includes("alter")}
      alters={`sealed periods: ${sealed === 1 ? "it stands" : "they stand"} in the opening trace afterwards.`}
      busy={store.isPending}
      failed={store.error?.message}
      onStore={() => store.mutate()}
      onClose={onClose}
    >
      <Differences rows={rows} currency={currency} locale={locale} />
    </ComparedFile>
  );
}

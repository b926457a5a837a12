import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { postFile, type Schemas } from "../../api/client";
import { counted } from "../../format/dates";
import { Button, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";
import { ColumnsForm, columnsField, type Columns } from "./ColumnsForm";

type Understood = Schemas["UnderstoodOut"];

interface ChartImportDialogProps {
  companyId: number;
  file: File;
  onClose: () => void;
}

/** A chart of accounts from a file: what it holds, before any of it is stored. */
export function ChartImportDialog({ companyId, file, onClose }: ChartImportDialogProps) {
  const refresh = useRefresh();
  const notices = useNotices();
  const [columns, setColumns] = useState<Columns | null>(null);
  const send = (store: boolean) =>
    postFile<Understood>(`/api/companies/${companyId}/chart/import`, file, {
      columns: columnsField(columns),
      store: String(store),
    });
  const preview = useQuery({
    queryKey: ["chart import", companyId, file.name, file.size, file.lastModified, columns],
    queryFn: () => send(false),
    placeholderData: (last) => last,
    gcTime: 0,
    retry: false,
  });
  const many = (number: number) => counted(number, "account");
  const store = useMutation({
    mutationFn: () => send(true),
    onSuccess: async (done) => {
      notices.say(`${many(done.new)} added.`);
      onClose();
      await refresh();
    },
  });
  const found = preview.data;
  return (
    <Dialog title={`Accounts from ${file.name}`} open wide onClose={onClose}>
      <div className="space-y-3">
        {preview.error && <Trouble>{preview.error.message}</Trouble>}
        {found && <ColumnsForm table={found.table} stated={columns} onChange={setColumns} />}
        {found && found.table.missing.length === 0 && !preview.error && (
          <p>
            <b>{many(found.new)}</b> new, {found.known} known already. Nothing is stored yet.
          </p>
        )}
        {found?.held.map((text) => (
          <p key={text} className="text-muted">
            Left as it is: {text}
          </p>
        ))}
        {store.error && <Trouble>{store.error.message}</Trouble>}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={
              !found || preview.error !== null || found.table.missing.length > 0 || !found.new || store.isPending
            }
            onClick={() => store.mutate()}
          >
            {found?.new ? `Take over ${many(found.new)}` : "Nothing new to add"}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

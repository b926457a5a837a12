import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";
import { Link } from "react-router";

import { answer, client, type Schemas } from "../../api/client";
import { accountPath } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted, longDay, moment } from "../../format/dates";
import { Button, Field, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";
import type { Desk, Row, Spine } from "./api";

const ROOM = "/api/companies/{company_id}/reconciliations/{reconciliation_id}";

interface StandingBarProps {
  desk: Desk;
  spine: Spine;
  row: Row | undefined;
}

type Asked = "break" | "return" | "seals" | "notes" | null;

/** Where a reconciliation stands beside its work: sealed, in review, opened again; and what can be done about it. */
export function StandingBar({ desk, spine, row }: StandingBarProps) {
  const { locale, rights, review } = useCompany(desk.companyId);
  const [asked, setAsked] = useState<Asked>(null);
  const { seal, stage } = spine;
  const inReview = stage === "in review";
  const again = stage === "opened again";
  if (!seal && !inReview && !again && !spine.notes_open && !review) return null;
  return (
    <div
      role="status"
      aria-label="Standing"
      className="flex min-h-8 shrink-0 items-center gap-3 border-b border-line bg-slate-soft px-3 py-1"
    >
      <span className="min-w-0 flex-1 truncate">
        {seal && (
          <>
            <b>Sealed</b> {moment(seal.sealed_at, locale)} by {seal.sealed_by}, seal {seal.number}
            {spine.ring.state === "disturbed" && (
              <>
                {" · "}
                <Link className="font-semibold text-wine" to={accountPath(desk.companyId, spine.account.id, "trace")}>
                  something sealed here has changed: opening trace
                </Link>
              </>
            )}
            {spine.ring.state === "accepted" && " · a change was accepted"}
          </>
        )}
        {inReview && (
          <>
            <b>In review</b>, frozen until it is approved or returned
          </>
        )}
        {!seal && !inReview && !again && review && "Another person approves before this is sealed"}
        {again && !inReview && (
          <>
            <b>Opened again</b>: its earlier seal and papers stay readable; seal it again at zero
          </>
        )}
      </span>
      {(seal !== null || again) && (
        <Button weight="quiet" onClick={() => setAsked("seals")}>
          Its seals
        </Button>
      )}
      {(inReview || spine.notes_open > 0 || (review && !seal)) && (
        <Button weight="quiet" onClick={() => setAsked("notes")}>
          {spine.notes_open ? counted(spine.notes_open, "open note") : "Review notes"}
        </Button>
      )}
      {seal && rights.includes("break") && (
        <Button weight="quiet" onClick={() => setAsked("break")}>
          Break the seal …
        </Button>
      )}
      {inReview && rights.includes("approve") && !spine.prepared_by_me && (
        <ReviewButtons desk={desk} spine={spine} onReturn={() => setAsked("return")} />
      )}
      {inReview && spine.prepared_by_me && <span className="text-muted">you prepared it: another person approves</span>}
      {asked === "break" && (
        <ReasonDialog
          desk={desk}
          title={`Break the seal to ${longDay(spine.closing_date, locale)}`}
          tells="The period is open again. Its seal and papers stay readable. When it is sealed again, later seals are chained to the new one; those whose content has changed by it are opened too."
          act="break"
          word="Break the seal"
          onClose={() => setAsked(null)}
        />
      )}
      {asked === "return" && (
        <ReasonDialog
          desk={desk}
          title="Return it to the preparer"
          tells="The work goes on where it stood. Your note must be closed before it can be approved."
          act="return"
          word="Return it"
          onClose={() => setAsked(null)}
        />
      )}
      {asked === "seals" && <SealsDialog desk={desk} locale={locale} onClose={() => setAsked(null)} />}
      {asked === "notes" && <NotesDialog desk={desk} row={row} locale={locale} onClose={() => setAsked(null)} />}
    </div>
  );
}

function pathOf(desk: Desk) {
  return { company_id: desk.companyId, reconciliation_id: desk.reconciliationId };
}

function ReviewButtons({ desk, spine, onReturn }: { desk: Desk; spine: Spine; onReturn: () => void }) {
  const refresh = useRefresh();
  const notices = useNotices();
  const approve = useMutation({
    mutationFn: () => answer(client.POST(`${ROOM}/approve`, { params: { path: pathOf(desk) } })),
    onSuccess: async () => {
      notices.say("Approved and sealed.");
      await refresh();
    },
    onError: notices.fail,
  });
  return (
    <>
      <Button onClick={onReturn}>Return with a note</Button>
      <Button weight="main" disabled={approve.isPending || spine.notes_open > 0} onClick={() => approve.mutate()}>
        Approve and seal
      </Button>
    </>
  );
}

interface ReasonDialogProps {
  desk: Desk;
  title: string;
  tells: string;
  act: "break" | "return";
  word: string;
  onClose: () => void;
}

function ReasonDialog({ desk, title, tells, act, word, onClose }: ReasonDialogProps) {
  const refresh = useRefresh();
  const [reason, setReason] = useState("");
  const run = useMutation({
    mutationFn: async () => {
      const at = { params: { path: pathOf(desk) }, body: { reason } };
      await answer(act === "break" ? client.POST(`${ROOM}/break`, at) : client.POST(`${ROOM}/return`, at));
    },
    onSuccess: async () => {
      onClose();
      await refresh();
    },
  });
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    run.mutate();
  };
  return (
    <Dialog title={title} open onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <p className="text-muted">{tells}</p>
        <Field
          label={act === "break" ? "Why" : "What is to be done"}
          required
          autoFocus
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        {run.error && <Trouble>{run.error.message}</Trouble>}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" type="submit" disabled={!reason.trim() || run.isPending}>
            {word}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Every seal the reconciliation has had, and what each says otherwise than the one it replaces. */
function SealsDialog({ desk, locale, onClose }: { desk: Desk; locale: string; onClose: () => void }) {
  const found = useQuery({
    queryKey: ["seals", desk.companyId, desk.reconciliationId],
    queryFn: () => answer(client.GET(`${ROOM}/seals`, { params: { path: pathOf(desk) } })),
  });
  const paper = (number: number) =>
    `/api/companies/${desk.companyId}/reconciliations/${desk.reconciliationId}/seals/${number}/report.pdf`;
  return (
    <Dialog title="Its seals, newest first" open wide onClose={onClose}>
      {found.data?.map((seal) => (
        <section key={seal.number} className="border-t border-hair py-2">
          <p className="flex items-baseline gap-3">
            <b>Seal {seal.number}</b> {seal.made}
            {seal.replaces !== null && <span className="text-muted">replaces seal {seal.replaces}</span>}
            <span className="text-muted">
              {seal.sealed_by}, {moment(seal.sealed_at, locale)}
            </span>
            <a className="ml-auto font-semibold text-wine" href={paper(seal.number)} target="_blank" rel="noreferrer">
              Its report
            </a>
          </p>
          <p className="figure text-xs break-all whitespace-normal text-muted">{seal.sha256}</p>
          {seal.replaces !== null && <SealDifferences seal={seal} />}
        </section>
      ))}
    </Dialog>
  );
}

function SealDifferences({ seal }: { seal: Schemas["SealToldOut"] }) {
  if (!seal.differences.length) return <p className="text-muted">Its content is that of the seal it replaces.</p>;
  return (
    <ul className="mt-1">
      {seal.differences.slice(0, 40).map((difference, n) => (
        <li key={n} className="text-xs">
          <b>{difference.where.replaceAll(/[._]/g, " ")}</b>
          {difference.id !== null && ` ${difference.id}`}: was <s>{difference.was || "not there"}</s> now{" "}
          <b>{difference.now || "not there"}</b>
        </li>
      ))}
      {seal.differences.length > 40 && <li className="text-xs">… and {seal.differences.length - 40} more.</li>}
    </ul>
  );
}

interface NotesDialogProps {
  desk: Desk;
  row: Row | undefined;
  locale: string;
  onClose: () => void;
}

/** Review notes, on the chosen row or the whole; each is closed before the approval. */
function NotesDialog({ desk, row, locale, onClose }: NotesDialogProps) {
  const refresh = useRefresh();
  const notices = useNotices();
  const [text, setText] = useState("");
  const [onRow, setOnRow] = useState(false);
  const found = useQuery({
    queryKey: ["review notes", desk.companyId, desk.reconciliationId],
    queryFn: () => answer(client.GET(`${ROOM}/notes`, { params: { path: pathOf(desk) } })),
  });
  const add = useMutation({
    mutationFn: () => {
      const item = onRow
        ? { line: row?.lines[0] ?? null, entry: row?.lines.length ? null : (row?.entries[0] ?? null) }
        : {};
      return answer(client.POST(`${ROOM}/notes`, { params: { path: pathOf(desk) }, body: { text, ...item } }));
    },
    onSuccess: async () => {
      setText("");
      await refresh();
    },
    onError: notices.fail,
  });
  const close = useMutation({
    mutationFn: (note: number) =>
      answer(
        client.POST("/api/companies/{company_id}/notes/{note_id}/close", {
          params: { path: { company_id: desk.companyId, note_id: note } },
        }),
      ),
    onSuccess: refresh,
    onError: notices.fail,
  });
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    add.mutate();
  };
  return (
    <Dialog title="Review notes" open onClose={onClose}>
      {found.data?.length === 0 && <p className="text-muted">No notes yet.</p>}
      <ul>
        {found.data?.map((note) => (
          <li key={note.id} className="flex items-baseline gap-3 border-b border-hair py-1.5">
            <span className={`flex-1 ${note.closed_at ? "text-muted" : ""}`}>
              {note.text}
              <span className="block text-xs text-muted">
                {note.person}, {moment(note.at, locale)}
                {note.line_id !== null && " · on a statement line"}
                {note.entry_id !== null && " · on a book entry"}
                {note.closed_at && ` · closed by ${note.closed_by}`}
              </span>
            </span>
            {!note.closed_at && (
              <Button weight="quiet" disabled={close.isPending} onClick={() => close.mutate(note.id)}>
                Close
              </Button>
            )}
          </li>
        ))}
      </ul>
      <form onSubmit={submit} className="mt-3 space-y-2">
        <Field label="A new note" value={text} onChange={(event) => setText(event.target.value)} />
        {row && (
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-wine"
              checked={onRow}
              onChange={(event) => setOnRow(event.target.checked)}
            />
            on the chosen row
          </label>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Done</Button>
          <Button weight="main" type="submit" disabled={!text.trim() || add.isPending}>
            Add the note
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

import { useState, type SyntheticEvent } from "react";

import { spinePath, useBoard, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { Link } from "react-router";
import { moment } from "../../format/dates";
import { Button, Field, Trouble } from "../../ui/controls";
import { AccountChoice } from "../books/AccountChoice";
import { useGlAccounts } from "../books/books";
import { capital, nameOf } from "./TracePage";
import {
  plainRepair,
  useHistory,
  useRepairPreview,
  wantedOf,
  type Finding,
  type Repair,
  type useRepairs,
} from "./trace";

interface FindingPanelProps {
  place: Place;
  finding: Finding;
  may: boolean;
  repair: ReturnType<typeof useRepairs>["repair"];
}

/** The chosen finding: its history step by step, and each repair with what it would do. */
export function FindingPanel({ place, finding, may, repair }: FindingPanelProps) {
  const { locale } = useCompany(place.companyId);
  const history = useHistory(place, finding);
  const board = useBoard();
  const where = board.data?.companies
    .flatMap((company) => company.accounts)
    .find(({ account }) => account.id === finding.account_id)?.account;
  const plain = plainRepair(finding);
  const shown = useRepairPreview(place, plain ? [wantedOf(finding, plain)] : [], may);
  const withReason = finding.repairs.find((kind) => kind === "accept with entry" || kind === "note");
  return (
    <aside
      aria-label="Finding"
      className="flex w-[320px] shrink-0 flex-col gap-3 overflow-auto border-l border-line bg-sheet p-4"
    >
      <h2 className="text-base font-bold">{nameOf(finding)}</h2>
      <ol className="ml-1 border-l-2 border-line" aria-label="History">
        {history.data?.map((event, n) => (
          <li key={n} className="relative pb-3 pl-4">
            <span
              className={`absolute top-1.5 -left-[6px] h-2.5 w-2.5 rounded-full ${event.disturbing ? "bg-ember" : "bg-slate"}`}
            />
            <p className={event.disturbing ? "font-bold" : ""}>{capital(event.what)}</p>
            <p className="text-xs text-muted">
              {event.person} · {moment(event.at, locale)}
              {event.reason && ` · “${event.reason}”`}
            </p>
          </li>
        ))}
      </ol>
      {finding.kind === "moved" && where && (
        <p className="rounded-md border border-line bg-slate-soft px-3 py-2">
          It stands on <b>{where.name}</b> now.
        </p>
      )}
      {plain && may && (
        <section className="rounded-md border border-line bg-paper p-3" aria-label={capital(plain)}>
          <h3 className="text-xs font-semibold text-muted">{capital(plain)}</h3>
          {shown.error ? (
            <p className="mt-1">{shown.error.message}</p>
          ) : (
            <p className="mt-1">{shown.data?.effects[0]?.text ?? "…"}</p>
          )}
          <Button
            weight="main"
            shortcut="Enter"
            className="mt-2 w-full"
            disabled={repair.isPending || shown.error !== null}
            onClick={() => repair.mutate([wantedOf(finding, plain)])}
          >
            {capital(plain)}
          </Button>
        </section>
      )}
      {withReason && may && !finding.mended && (
        <ReasonForm place={place} finding={finding} kind={withReason} repair={repair} />
      )}
      {finding.acceptance && (
        <section className="rounded-md border border-line bg-paper p-3">
          <h3 className="text-xs font-semibold text-muted">Accepted</h3>
          <p className="mt-1">
            {finding.acceptance.person}, {moment(finding.acceptance.at, locale)}: “{finding.acceptance.reason}”
          </p>
        </section>
      )}
      {!finding.is_line && (
        <Link
          className="font-semibold text-wine"
          to={`${spinePath(place.companyId, finding.reconciliation_id)}?entry=${finding.id}`}
        >
          Look at it in the sealed reconciliation
        </Link>
      )}
    </aside>
  );
}

interface ReasonFormProps {
  place: Place;
  finding: Finding;
  kind: Repair;
  repair: FindingPanelProps["repair"];
}

/** Accepting a change as it stands: with an entry that takes the shift back, or with a note where nothing shifts. */
function ReasonForm({ place, finding, kind, repair }: ReasonFormProps) {
  const company = useCompany(place.companyId);
  const accounts = useGlAccounts(place.companyId);
  const [account, setAccount] = useState<number | null>(null);
  const [reason, setReason] = useState("");
  const elsewhere = place.account.currency !== company.currency;
  const byEntry = kind === "accept with entry";
  const wanted = { ...wantedOf(finding, kind), other_account_id: account, reason };
  const ready = reason.trim() !== "" && (!byEntry || account !== null || elsewhere);
  const shown = useRepairPreview(place, [wanted], ready);
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    repair.mutate([wanted]);
  };
  if (!company.rights.includes("alter")) {
    return (
      <p className="text-muted">Accepting a change takes the right to alter sealed entries, which you do not have.</p>
    );
  }
  return (
    <form
      aria-label={byEntry ? "Accept with entry" : "Note"}
      onSubmit={submit}
      className="space-y-2 rounded-md border border-line bg-paper p-3"
    >
      <h3 className="text-xs font-semibold text-muted">{byEntry ? "Accept with entry" : "Keep it, with a note"}</h3>
      <p>
        {byEntry
          ? "Keeps it as it is now; an entry of the current period takes the shift back and counts in the sealed one."
          : "Keeps it as it is now; no balance has moved."}
      </p>
      {byEntry && !elsewhere && (
        <AccountChoice label="Against" accounts={accounts.data ?? []} value={account} onChange={setAccount} />
      )}
      <Field label="Why" value={reason} onChange={(event) => setReason(event.target.value)} />
      {shown.data && <p className="text-xs text-muted">{shown.data.effects[0]?.text}</p>}
      {shown.error && <Trouble>{shown.error.message}</Trouble>}
      <Button type="submit" className="w-full" disabled={!ready || repair.isPending}>
        {byEntry ? "Accept with entry" : "Keep it"}
      </Button>
    </form>
  );
}

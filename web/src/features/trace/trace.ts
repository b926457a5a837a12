import { useMutation, useQuery } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../../api/client";
import type { Place } from "../../app/places";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";

export type Trace = Schemas["TraceOut"];
export type Period = Schemas["PeriodOut"];
export type Finding = Schemas["FindingOut"];
export type Mended = Schemas["MendedOut"];
export type Repair = Finding["repairs"][number];
export type Wanted = Schemas["WantedIn"];

const TRACE = "/api/companies/{company_id}/accounts/{account_id}/trace";

const pathOf = ({ companyId, account }: Place) => ({ company_id: companyId, account_id: account.id });

export function useTrace(place: Place) {
  return useQuery({
    queryKey: ["trace", place.companyId, place.account.id],
    queryFn: () => answer(client.GET(TRACE, { params: { path: pathOf(place) } })),
  });
}

export function useHistory(place: Place, finding: Finding | undefined) {
  return useQuery({
    queryKey: ["trace history", place.companyId, finding?.id, finding?.reconciliation_id],
    enabled: finding !== undefined && !finding.is_line,
    queryFn: () =>
      answer(
        client.GET(`${TRACE}/history/{entry_id}`, {
          params: {
            path: { ...pathOf(place), entry_id: finding?.id ?? 0 },
            query: { reconciliation: finding?.reconciliation_id ?? 0 },
          },
        }),
      ),
  });
}

export function useRepairPreview(place: Place, wanted: Wanted[], enabled = true) {
  return useQuery({
    queryKey: ["repair preview", place.companyId, place.account.id, wanted],
    enabled: enabled && wanted.length > 0,
    retry: false,
    queryFn: () =>
      answer(client.POST(`${TRACE}/preview`, { params: { path: pathOf(place) }, body: { repairs: wanted } })),
  });
}

/** Mends findings, or takes the last repair back; says what was done. */
export function useRepairs(place: Place) {
  const refresh = useRefresh();
  const notices = useNotices();
  const repair = useMutation({
    mutationFn: (repairs: Wanted[]) =>
      answer(client.POST(`${TRACE}/repair`, { params: { path: pathOf(place) }, body: { repairs } })),
    onSuccess: async (effects) => {
      notices.say(effects.length === 1 ? (effects[0]?.text ?? "") : `${effects.length} findings mended.`);
      await refresh();
    },
    onError: notices.fail,
  });
  const undo = useMutation({
    mutationFn: () => answer(client.POST(`${TRACE}/undo`, { params: { path: pathOf(place) } })),
    onSuccess: async ({ label }) => {
      notices.say(`Taken back: ${label.replace("repair: ", "")}.`);
      await refresh();
    },
    onError: notices.fail,
  });
  return { repair, undo };
}

export function keyOf(finding: Finding): string {
  return `${finding.reconciliation_id}/${finding.is_line ? "line" : "entry"}/${finding.id}`;
}

/** The repair that needs nothing typed. */
export function plainRepair(finding: Finding): Repair | undefined {
  return finding.mended
    ? undefined
    : finding.repairs.find((repair) => repair !== "accept with entry" && repair !== "note");
}

export function wantedOf(finding: Finding, repair: Repair): Wanted {
  const { reconciliation_id, is_line, id } = finding;
  return { reconciliation_id, is_line, id, repair, other_account_id: null, reason: "" };
}

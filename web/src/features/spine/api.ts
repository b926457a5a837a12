import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { answer, ApiError, client, type Schemas } from "../../api/client";
import { counted } from "../../format/dates";
import { useNotices } from "../../ui/Notices";

export type Spine = Schemas["SpineOut"];
export type Row = Schemas["RowOut"];
export type Line = Schemas["LineOut"];
export type Entry = Schemas["EntryOut"];
export type PassName = Schemas["PassName"];
export type Clue = Schemas["ClueOut"];
export type StripFigures = Schemas["StripOut"];

export interface Desk {
  companyId: number;
  reconciliationId: number;
}

function path({ companyId, reconciliationId }: Desk) {
  return { params: { path: { company_id: companyId, reconciliation_id: reconciliationId } } };
}

const ROOM = "/api/companies/{company_id}/reconciliations/{reconciliation_id}";

function spineKey(desk: Desk): readonly unknown[] {
  return ["spine", desk.companyId, desk.reconciliationId];
}

/** The Spine; asked for again as soon as anybody has done something in the account. */
export function useSpine(desk: Desk) {
  const queries = useQueryClient();
  const spine = useQuery({
    queryKey: spineKey(desk),
    queryFn: () => answer(client.GET(`${ROOM}/spine`, path(desk))),
  });
  const change = useQuery({
    queryKey: ["change", desk.companyId, desk.reconciliationId],
    queryFn: () => answer(client.GET(`${ROOM}/change`, path(desk))),
    refetchInterval: 2500,
    enabled: spine.isSuccess,
  });
  const behind = spine.data && change.data && change.data.change > spine.data.change;
  useEffect(() => {
    if (behind) void queries.invalidateQueries({ queryKey: ["spine"] });
  }, [behind, queries]);
  return spine;
}

/** Everything that can be done on the Spine. Each runs, then shows what it has become. */
export type Action =
  | { do: "match"; lines: number[]; entries: number[] }
  | { do: "pair"; pairs: { line: number; entry: number }[] }
  | { do: "unmatch"; decisions: number[] }
  | { do: "tick"; entries: number[] }
  | { do: "record"; recording: Schemas["RecordIn"] }
  | { do: "correct"; line: number; entry: number }
  | { do: "correct group"; lines: number[]; entries: number[]; entry: number }
  | { do: "adjust"; lines: number[]; entries: number[]; account: number; payee: string; memo: string }
  | { do: "settle"; line: number; items: number[]; writeOff: number | null }
  | { do: "reverse"; reversal: Schemas["ReverseIn"] }
  | { do: "bank error"; line: number }
  | { do: "bank correction"; line: number }
  | { do: "correct date"; entry: number; date: string }
  | { do: "remove"; account: number; entry: number }
  | { do: "passes"; only: PassName[] }
  | { do: "undo" }
  | { do: "redo" }
  | { do: "seal" }
  | { do: "hand in" };

async function run(desk: Desk, action: Action): Promise<string> {
  const at = path(desk);
  switch (action.do) {
    case "match":
      await answer(
        client.POST(`${ROOM}/match`, { ...at, body: { lines: action.lines, entries: action.entries, why: "" } }),
      );
      return "";
    case "pair":
      await answer(client.POST(`${ROOM}/pair`, { ...at, body: { pairs: action.pairs } }));
      return "";
    case "unmatch":
      await answer(client.POST(`${ROOM}/unmatch`, { ...at, body: { decisions: action.decisions, reason: "" } }));
      return "";
    case "tick":
      await answer(client.POST(`${ROOM}/tick`, { ...at, body: { entries: action.entries, reason: "" } }));
      return "";
    case "record": {
      await answer(client.POST(`${ROOM}/record`, { ...at, body: action.recording }));
      const number = action.recording.lines.length;
      return number === 1 ? "Recorded and matched." : `${number} lines recorded and matched.`;
    }
    case "correct group": {
      const { lines, entries, entry } = action;
      await answer(client.POST(`${ROOM}/correct-group`, { ...at, body: { lines, entries, entry } }));
      return "Entry corrected, the group matched.";
    }
    case "correct":
      await answer(client.POST(`${ROOM}/correct`, { ...at, body: { line: action.line, entry: action.entry } }));
      return "Entry corrected and matched.";
    case "adjust": {
      const { lines, entries, account, payee, memo } = action;
      const body = { lines, entries, other_account_id: account, payee, memo };
      await answer(client.POST(`${ROOM}/adjust`, { ...at, body }));
      return "Adjustment posted and matched along.";
    }
    case "bank error":
      await answer(client.POST(`${ROOM}/bank-error`, { ...at, body: { line: action.line, note: "" } }));
      return "Kept as a bank error until the bank corrects it.";
    case "reverse":
      await answer(client.POST(`${ROOM}/reverse`, { ...at, body: action.reversal }));
      return action.reversal.new_reference ? "Voided and written anew." : "Reversed.";
    case "settle": {
      const body = { line: action.line, items: action.items, write_off_account_id: action.writeOff };
      await answer(client.POST(`${ROOM}/settle`, { ...at, body }));
      return "Settled and matched.";
    }
    case "bank correction":
      await answer(client.POST(`${ROOM}/bank-correction`, { ...at, body: { line: action.line } }));
      return "The bank's error is corrected.";
    case "correct date":
      await answer(client.POST(`${ROOM}/correct-date`, { ...at, body: { entry: action.entry, date: action.date } }));
      return "Date corrected; the journal follows.";
    case "remove": {
      const path = { company_id: desk.companyId, account_id: action.account, entry_id: action.entry };
      const entry = "/api/companies/{company_id}/accounts/{account_id}/book/entries/{entry_id}";
      await answer(client.DELETE(entry, { params: { path } }));
      return "Entry taken out of the books; Z brings it back.";
    }
    case "passes": {
      const made = await answer(client.POST(`${ROOM}/passes`, { ...at, body: { only: action.only } }));
      const matched = made.matches === 1 ? "1 match made" : `${made.matches} matches and washes made`;
      return made.recorded ? `${matched}, ${made.recorded} recorded by rule.` : `${matched}.`;
    }
    case "undo":
      return `Undone: ${(await answer(client.POST(`${ROOM}/undo`, at))).label}.`;
    case "redo":
      return `Done again: ${(await answer(client.POST(`${ROOM}/redo`, at))).label}.`;
    case "seal": {
      const done = await answer(client.POST(`${ROOM}/seal`, at));
      const [chained, open] = [done.chained_again.length, done.opened_too.length];
      const again = chained ? ` ${counted(chained, "later seal was", "later seals were")} chained to it again.` : "";
      const opened = open
        ? ` ${counted(open, "later period has", "later periods have")} changed by it and ${open === 1 ? "is" : "are"} open again.`
        : "";
      return `Sealed.${again}${opened}`;
    }
    case "hand in":
      await answer(client.POST(`${ROOM}/hand-in`, at));
      return "Handed in: another person approves it.";
  }
}

export function useAction(desk: Desk) {
  const queries = useQueryClient();
  const notices = useNotices();
  return useMutation({
    // One after the other: a key pressed before the last answer is in acts after it.
    scope: { id: `spine/${desk.reconciliationId}` },
    mutationFn: (action: Action) => run(desk, action),
    onSuccess: (said) => {
      if (said) notices.say(said);
    },
    onError: notices.fail,
    onSettled: (_said, error, action) => {
      if (error instanceof ApiError && error.status === 401) return;
      const wide = action.do === "seal" || action.do === "hand in";
      return queries.invalidateQueries({ predicate: ({ queryKey: [name] }) => wide || name !== "me" });
    },
  });
}

export function useDryRun(desk: Desk) {
  return useQuery({
    queryKey: ["passes", desk.companyId, desk.reconciliationId],
    queryFn: () => answer(client.GET(`${ROOM}/passes`, path(desk))),
    gcTime: 0,
  });
}

export function useLine(companyId: number, lineId: number | undefined) {
  return useQuery({
    queryKey: ["line", companyId, lineId],
    enabled: lineId !== undefined,
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/lines/{line_id}", {
          params: { path: { company_id: companyId, line_id: lineId ?? 0 } },
        }),
      ),
  });
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../../api/client";

export type CodingLists = Schemas["ListsOut"];
export type Rule = Schemas["RuleOut"];
export type RuleValues = Schemas["RuleBody"];
export type PartGiven = Schemas["PartIn"];
export type Party = Schemas["PartyBody"];

const COMPANY = "/api/companies/{company_id}";

function of(companyId: number) {
  return { path: { company_id: companyId } };
}

/** Departments, taxes and parties. */
export function useCodingLists(companyId: number) {
  return useQuery({
    queryKey: ["coding", companyId],
    queryFn: () => answer(client.GET(`${COMPANY}/coding`, { params: of(companyId) })),
  });
}

export function useRules(companyId: number) {
  return useQuery({
    queryKey: ["rules", companyId],
    queryFn: () => answer(client.GET(`${COMPANY}/rules`, { params: of(companyId) })),
  });
}

/** What a rule would have coded of all past lines. */
export function useTrial(companyId: number, values: RuleValues, ready: boolean) {
  return useQuery({
    queryKey: ["rule trial", companyId, values],
    enabled: ready,
    retry: false,
    gcTime: 0,
    placeholderData: (before) => before,
    queryFn: () => answer(client.POST(`${COMPANY}/rules/try`, { params: of(companyId), body: values })),
  });
}

/** What recording a line would post beside the control account. */
export function usePostings(
  desk: { companyId: number; reconciliationId: number },
  line: number,
  parts: PartGiven[],
  ready: boolean,
) {
  return useQuery({
    queryKey: ["postings", desk.reconciliationId, line, parts],
    enabled: ready,
    retry: false,
    gcTime: 0,
    placeholderData: (before) => before,
    queryFn: () =>
      answer(
        client.POST("/api/companies/{company_id}/reconciliations/{reconciliation_id}/record/preview", {
          params: { path: { company_id: desk.companyId, reconciliation_id: desk.reconciliationId } },
          body: { line, parts },
        }),
      ),
  });
}

export type Change =
  | { change: "add rule"; values: RuleValues }
  | { change: "write rule"; id: number; values: RuleValues; active: boolean }
  | { change: "remove rule"; id: number }
  | { change: "order rules"; ids: number[] }
  | { change: "add department"; name: string }
  | { change: "add tax"; body: Schemas["TaxIn"] }
  | { change: "write party"; body: Party };

export function useCodingChange(companyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (what: Change): Promise<void> => {
      const params = of(companyId);
      switch (what.change) {
        case "add rule":
          await answer(client.POST(`${COMPANY}/rules`, { params, body: what.values }));
          return;
        case "write rule": {
          const path = { company_id: companyId, rule_id: what.id };
          const body = { ...what.values, active: what.active };
          await answer(client.PUT(`${COMPANY}/rules/{rule_id}`, { params: { path }, body }));
          return;
        }
        case "remove rule": {
          const path = { company_id: companyId, rule_id: what.id };
          await answer(client.DELETE(`${COMPANY}/rules/{rule_id}`, { params: { path } }));
          return;
        }
        case "order rules":
          await answer(client.PUT(`${COMPANY}/rules/order`, { params, body: { ids: what.ids } }));
          return;
        case "add department":
          await answer(client.POST(`${COMPANY}/departments`, { params, body: { name: what.name } }));
          return;
        case "add tax":
          await answer(client.POST(`${COMPANY}/taxes`, { params, body: what.body }));
          return;
        case "write party":
          await answer(client.PUT(`${COMPANY}/parties`, { params, body: what.body }));
      }
    },
    onSuccess: () => queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "me" }),
  });
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../../api/client";

export type Start = Schemas["StartBody"];
export type PassSettings = Schemas["PassesOut"];
export type PassChoice = Schemas["PassesBody"];
export type NewBankAccount = Schemas["BankAccountIn"];
export type NewLedgerAccount = Schemas["GlAccountIn"];

const START = "/api/companies/{company_id}/accounts/{account_id}/start";

const PASSES = "/api/companies/{company_id}/accounts/{account_id}/passes";

export function usePassSettings(companyId: number, accountId: number) {
  return useQuery({
    queryKey: ["pass settings", companyId, accountId],
    gcTime: 0,
    queryFn: () => answer(client.GET(PASSES, { params: { path: { company_id: companyId, account_id: accountId } } })),
  });
}

export function useStart(companyId: number, accountId: number) {
  return useQuery({
    queryKey: ["start", companyId, accountId],
    gcTime: 0,
    queryFn: () => answer(client.GET(START, { params: { path: { company_id: companyId, account_id: accountId } } })),
  });
}

/** Everything that can be set up; afterwards all of it is asked for again. */
export type Setting =
  | { set: "ledger account"; body: NewLedgerAccount }
  | { set: "bank account"; body: NewBankAccount }
  | { set: "start"; accountId: number; body: Start }
  | { set: "passes"; accountId: number; body: PassChoice };

export function useSetup(companyId: number) {
  const queries = useQueryClient();
  const params = { path: { company_id: companyId } };
  return useMutation({
    mutationFn: async (what: Setting) => {
      switch (what.set) {
        case "ledger account":
          await answer(client.POST("/api/companies/{company_id}/gl-accounts", { params, body: what.body }));
          return;
        case "bank account":
          await answer(client.POST("/api/companies/{company_id}/bank-accounts", { params, body: what.body }));
          return;
        case "passes":
          await answer(
            client.PUT(PASSES, {
              params: { path: { company_id: companyId, account_id: what.accountId } },
              body: what.body,
            }),
          );
          return;
        case "start":
          await answer(
            client.PUT(START, {
              params: { path: { company_id: companyId, account_id: what.accountId } },
              body: what.body,
            }),
          );
      }
    },
    onSuccess: () => queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "me" }),
  });
}

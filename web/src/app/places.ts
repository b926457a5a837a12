import { useQuery } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../api/client";

export type Board = Schemas["BoardOut"];
export type Account = Schemas["AccountOut"];

export interface Place {
  companyId: number;
  account: Account;
}

export function useBoard() {
  return useQuery({ queryKey: ["board"], queryFn: () => answer(client.GET("/api/board")) });
}

/** The account a page is about, from the Board's own data. */
export function placeOf(board: Board | undefined, companyId: number, accountId: number): Place | undefined {
  const account = board?.companies
    .find((company) => company.id === companyId)
    ?.accounts.find((row) => row.account.id === accountId)?.account;
  return account && { companyId, account };
}

export function useReconciliations(companyId: number, accountId: number | undefined) {
  return useQuery({
    queryKey: ["reconciliations", companyId, accountId],
    enabled: accountId !== undefined,
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/accounts/{account_id}/reconciliations", {
          params: { path: { company_id: companyId, account_id: accountId ?? 0 } },
        }),
      ),
  });
}

export function spinePath(companyId: number, reconciliationId: number): string {
  return `/company/${companyId}/reconciliation/${reconciliationId}`;
}

export function accountPath(
  companyId: number,
  accountId: number,
  page: "statements" | "books" | "trace" | "outstanding",
): string {
  return `/company/${companyId}/account/${accountId}/${page}`;
}

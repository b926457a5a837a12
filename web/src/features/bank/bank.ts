import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../../api/client";

export type Fetched = Schemas["FetchedOut"];

const ROOM = "/api/companies/{company_id}/accounts/{account_id}/bank";

function path(companyId: number, accountId: number) {
  return { params: { path: { company_id: companyId, account_id: accountId } } };
}

export function useConnection(companyId: number, accountId: number) {
  return useQuery({
    queryKey: ["connection", companyId, accountId],
    queryFn: () => answer(client.GET(ROOM, path(companyId, accountId))),
  });
}

/** Asks the bank for what it has; afterwards everything shown is asked for again. */
export function useFetch(companyId: number, accountId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => answer(client.POST(`${ROOM}/fetch`, path(companyId, accountId))),
    onSuccess: () => queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "me" }),
  });
}

export function remoteAccounts(companyId: number, accountId: number, address: string) {
  const { params } = path(companyId, accountId);
  return answer(client.GET(`${ROOM}/accounts`, { params: { ...params, query: { address } } }));
}

export async function connect(companyId: number, accountId: number, address: string, remoteId: string) {
  await answer(client.PUT(ROOM, { ...path(companyId, accountId), body: { address, remote_id: remoteId } }));
}

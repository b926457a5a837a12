import { useQuery } from "@tanstack/react-query";

import { answer, client, postFile, type Schemas } from "../../api/client";
import type { Place } from "../../app/places";

export type BookLine = Schemas["BookLineOut"];
export type BookImport = Schemas["ImportOut"];
export type EntryValues = Schemas["EntryIn"];

function path({ companyId, account }: Place) {
  return { company_id: companyId, account_id: account.id };
}

export function useBook(place: Place) {
  return useQuery({
    queryKey: ["book", place.companyId, place.account.id],
    queryFn: () =>
      answer(client.GET("/api/companies/{company_id}/accounts/{account_id}/book", { params: { path: path(place) } })),
  });
}

export function useGlAccounts(companyId: number) {
  return useQuery({
    queryKey: ["gl-accounts", companyId],
    queryFn: () =>
      answer(client.GET("/api/companies/{company_id}/gl-accounts", { params: { path: { company_id: companyId } } })),
  });
}

export function useEntry(companyId: number, entryId: number | undefined) {
  return useQuery({
    queryKey: ["entry", companyId, entryId],
    enabled: entryId !== undefined,
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/entries/{entry_id}", {
          params: { path: { company_id: companyId, entry_id: entryId ?? 0 } },
        }),
      ),
  });
}

export async function addEntry(place: Place, values: EntryValues): Promise<void> {
  await answer(
    client.POST("/api/companies/{company_id}/accounts/{account_id}/book/entries", {
      params: { path: path(place) },
      body: values,
    }),
  );
}

export async function editEntry(place: Place, entryId: number, values: EntryValues, revision: number): Promise<void> {
  await answer(
    client.PUT("/api/companies/{company_id}/accounts/{account_id}/book/entries/{entry_id}", {
      params: { path: { ...path(place), entry_id: entryId } },
      body: { ...values, revision },
    }),
  );
}

export async function removeEntry(place: Place, entryId: number): Promise<void> {
  await answer(
    client.DELETE("/api/companies/{company_id}/accounts/{account_id}/book/entries/{entry_id}", {
      params: { path: { ...path(place), entry_id: entryId } },
    }),
  );
}

export function importPath({ companyId, account }: Place): string {
  return `/api/companies/${companyId}/accounts/${account.id}/book/import`;
}

export function previewImport(place: Place, file: File): Promise<BookImport> {
  return postFile<BookImport>(`${importPath(place)}/preview`, file, {});
}

export function importBook(place: Place, file: File, otherAccount: number | null): Promise<BookImport> {
  return postFile<BookImport>(importPath(place), file, {
    other_account_id: otherAccount === null ? null : String(otherAccount),
  });
}

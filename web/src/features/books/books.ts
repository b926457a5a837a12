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

const ENTRY = "/api/companies/{company_id}/accounts/{account_id}/book/entries/{entry_id}";

/** `reason`: for altering what is sealed or locked, by who has that right. */
export async function editEntry(
  place: Place,
  entryId: number,
  values: EntryValues,
  revision: number,
  reason = "",
): Promise<void> {
  const params = { path: { ...path(place), entry_id: entryId } };
  await answer(client.PUT(ENTRY, { params, body: { ...values, revision, reason } }));
}

export async function moveEntry(place: Place, entryId: number, to: number, reason: string): Promise<void> {
  const params = { path: { ...path(place), entry_id: entryId } };
  await answer(client.POST(`${ENTRY}/move`, { params, body: { to_account_id: to, reason } }));
}

export async function removeEntry(place: Place, entryId: number, reason = ""): Promise<void> {
  const params = { path: { ...path(place), entry_id: entryId }, query: { reason } };
  await answer(client.DELETE(ENTRY, { params }));
}

export function importPath({ companyId, account }: Place): string {
  return `/api/companies/${companyId}/accounts/${account.id}/book/import`;
}

export function previewImport(place: Place, file: File, columns: string | null): Promise<BookImport> {
  return postFile<BookImport>(`${importPath(place)}/preview`, file, { columns });
}

/** What becomes of entries that a fresh export lacks. */
export type Absent = "keep" | "remove";

interface Answers {
  other: number | null;
  gone: Absent | null;
  outside: Absent | null;
  columns: string | null;
}

export function importBook(place: Place, file: File, { other, gone, outside, columns }: Answers): Promise<BookImport> {
  return postFile<BookImport>(importPath(place), file, {
    other_account_id: other === null ? null : String(other),
    gone,
    outside,
    columns,
  });
}

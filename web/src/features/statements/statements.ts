import { useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, client, postFile, type Schemas } from "../../api/client";
import type { Place } from "../../app/places";

export type Statement = Schemas["StatementOut"];
export type Reading = Schemas["ReadingOut"];

/** What a person states of a statement's head, beside what the file says; minor units. */
export interface HeadGiven {
  start: string | null;
  end: string | null;
  opening: number | null;
  closing: number | null;
}

export const NOTHING_GIVEN: HeadGiven = { start: null, end: null, opening: null, closing: null };

export type Table = Schemas["TableOut"];
export type Layout = Schemas["LayoutOut"];
export type Role = Layout["roles"][number];

export type RawTable = Schemas["RawTableOut"];

/** How a file is to be read: the layout of its table, what of it a person stated, and which statement is meant. */
export interface How {
  layout: Layout | null;
  settled: string[];
  place: number | null;
}

export const AS_FOUND: How = { layout: null, settled: [], place: null };

function path({ companyId, account }: Place): { company_id: number; account_id: number } {
  return { company_id: companyId, account_id: account.id };
}

export function useStatements(place: Place) {
  return useQuery({
    queryKey: ["statements", place.companyId, place.account.id],
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/accounts/{account_id}/statements", { params: { path: path(place) } }),
      ),
  });
}

function fields(given: HeadGiven, how: How): Record<string, string | null> {
  return {
    layout: how.layout && JSON.stringify(how.layout),
    settled: how.settled.join(",") || null,
    place: how.place === null ? null : String(how.place),
    start: given.start,
    end: given.end,
    opening: given.opening === null ? null : String(given.opening),
    closing: given.closing === null ? null : String(given.closing),
  };
}

function base({ companyId, account }: Place): string {
  return `/api/companies/${companyId}/accounts/${account.id}/statements`;
}

export function previewFile(
  place: Place,
  file: File,
  given: HeadGiven,
  how: How,
  job: string,
  signal: AbortSignal,
): Promise<Reading> {
  signal.addEventListener("abort", () => stopReading(place.companyId, job));
  return postFile<Reading>(`${base(place)}/preview`, file, { ...fields(given, how), job }, signal);
}

export function storeFile(
  place: Place,
  file: File,
  given: HeadGiven,
  how: How,
  confirmed: string[],
  job: string,
): Promise<Schemas["Stored"]> {
  const query = new URLSearchParams(confirmed.map((kind) => ["confirmed", kind]));
  return postFile<Schemas["Stored"]>(`${base(place)}?${query}`, file, { ...fields(given, how), job });
}

/** Where a table's heading is: in which row of the file (0: there is none), and how its text is taken apart. */
export interface Pointed {
  delimiter: string;
  encoding: string;
  heading: number | null;
}

/** The rows of a table as they stand in the file, before a layout. */
export function tableInFile(place: Place, file: File, { delimiter, encoding, heading }: Pointed): Promise<RawTable> {
  const chosen = { delimiter: delimiter || null, encoding: encoding || null };
  return postFile<RawTable>(`${base(place)}/table`, file, {
    ...chosen,
    heading: heading === null ? null : String(heading),
  });
}

/** How far a reading has come, asked for while it is under way. */
export function useProgress(companyId: number, job: string) {
  return useQuery({
    queryKey: ["reading progress", companyId, job],
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/readings", {
          params: { path: { company_id: companyId }, query: { job } },
        }),
      ),
    refetchInterval: 300,
    gcTime: 0,
  });
}

/** Let the server stop a reading; it may be done already. */
export function stopReading(companyId: number, job: string): void {
  void client.DELETE("/api/companies/{company_id}/readings", {
    params: { path: { company_id: companyId }, query: { job } },
  });
}

export function useAllStatements(companyId: number) {
  return useQuery({
    queryKey: ["all statements", companyId],
    queryFn: () =>
      answer(client.GET("/api/companies/{company_id}/statements", { params: { path: { company_id: companyId } } })),
  });
}

export function typeStatement(place: Place, body: Schemas["TypedIn"]): Promise<Schemas["Stored"]> {
  return answer(
    client.POST("/api/companies/{company_id}/accounts/{account_id}/statements/typed", {
      params: { path: path(place) },
      body,
    }),
  );
}

export async function correctHead(companyId: number, statementId: number, body: Schemas["HeadIn"]): Promise<void> {
  await answer(
    client.PUT("/api/companies/{company_id}/statements/{statement_id}/head", {
      params: { path: { company_id: companyId, statement_id: statementId } },
      body,
    }),
  );
}

export async function withdrawStatement(companyId: number, statementId: number): Promise<void> {
  await answer(
    client.DELETE("/api/companies/{company_id}/statements/{statement_id}", {
      params: { path: { company_id: companyId, statement_id: statementId } },
    }),
  );
}

/** After anything about an account changed, everything shown of it is asked for again. */
export function useRefresh(): () => Promise<void> {
  const queries = useQueryClient();
  return () =>
    queries.invalidateQueries({ predicate: ({ queryKey: [name] }) => name !== "me" && name !== "repair preview" });
}

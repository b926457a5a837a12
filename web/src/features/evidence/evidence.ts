import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, client, postForm, type Schemas } from "../../api/client";
import { useNotices } from "../../ui/Notices";

export type Evidence = Schemas["EvidenceOut"];
export type Entity = Evidence["entity"];

/** What evidence belongs to. */
export interface Holder {
  companyId: number;
  entity: Entity;
  id: number;
}

function key({ companyId, entity, id }: Holder): readonly unknown[] {
  return ["evidence", companyId, entity, id];
}

export function useEvidence(holder: Holder) {
  return useQuery({
    queryKey: key(holder),
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/evidence", {
          params: {
            path: { company_id: holder.companyId },
            query: { entity: holder.entity, entity_id: holder.id },
          },
        }),
      ),
  });
}

export function contentOf(companyId: number, evidenceId: number): string {
  return `/api/companies/${companyId}/evidence/${evidenceId}/content`;
}

/** Keeps a file or a note, or takes a piece out of sight. */
export function useKeeping(holder: Holder) {
  const queries = useQueryClient();
  const notices = useNotices();
  return useMutation({
    mutationFn: async (what: { file: File } | { note: string } | { aside: number }) => {
      const base = `/api/companies/${holder.companyId}/evidence`;
      if ("aside" in what) {
        const path = { company_id: holder.companyId, evidence_id: what.aside };
        await answer(client.DELETE("/api/companies/{company_id}/evidence/{evidence_id}", { params: { path } }));
        return;
      }
      const form = new FormData();
      if ("file" in what) form.append("file", what.file);
      else form.append("note", what.note);
      await postForm(`${base}?entity=${holder.entity}&entity_id=${holder.id}`, form);
    },
    onError: notices.fail,
    onSettled: () => queries.invalidateQueries({ queryKey: key(holder) }),
  });
}

export function useOriginal(companyId: number, statementId: number) {
  return useQuery({
    queryKey: ["original", companyId, statementId],
    staleTime: Infinity,
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/statements/{statement_id}/original", {
          params: { path: { company_id: companyId, statement_id: statementId } },
        }),
      ),
  });
}

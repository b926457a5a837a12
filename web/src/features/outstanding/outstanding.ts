import { useMutation, useQuery } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../../api/client";
import type { Place } from "../../app/places";
import { useNotices } from "../../ui/Notices";
import { useRefresh } from "../statements/statements";

export type Lingering = NonNullable<Schemas["LingeringOut"]>;
export type Item = Schemas["OutstandingOut"];

export function useOutstanding({ companyId, account }: Place, reconciliation: number | null) {
  return useQuery({
    queryKey: ["outstanding", companyId, account.id, reconciliation],
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/accounts/{account_id}/outstanding", {
          params: {
            path: { company_id: companyId, account_id: account.id },
            query: reconciliation === null ? {} : { reconciliation },
          },
        }),
      ),
  });
}

/** What is done with an item that lingers. */
export type Deed = { do: "reverse"; reversal: Schemas["ReverseIn"] } | { do: "void"; entry: number; reason: string };

export function useDeed({ companyId, account }: Place, reconciliationId: number) {
  const refresh = useRefresh();
  const notices = useNotices();
  return useMutation({
    mutationFn: async (deed: Deed) => {
      if (deed.do === "void") {
        await answer(
          client.DELETE("/api/companies/{company_id}/accounts/{account_id}/book/entries/{entry_id}", {
            params: {
              path: { company_id: companyId, account_id: account.id, entry_id: deed.entry },
              query: { reason: deed.reason },
            },
          }),
        );
        return "Voided; it stays in the history.";
      }
      const path = { company_id: companyId, reconciliation_id: reconciliationId };
      await answer(
        client.POST("/api/companies/{company_id}/reconciliations/{reconciliation_id}/reverse", {
          params: { path },
          body: deed.reversal,
        }),
      );
      if (deed.reversal.against) return "Written off and washed.";
      return deed.reversal.new_reference ? "Voided and written anew." : "Reversed and washed.";
    },
    onSuccess: async (words) => {
      notices.say(words);
      await refresh();
    },
    onError: notices.fail,
  });
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../../api/client";

export type Lessons = Schemas["LessonsOut"];
export type Lesson = Schemas["LessonIn"];
export type Yields = Schemas["YieldOut"];
export type Kept = Schemas["KeepIn"];

interface Whose {
  companyId: number;
  accountId: number;
}

const BASE = "/api/companies/{company_id}/accounts/{account_id}";

function params({ companyId, accountId }: Whose) {
  return { path: { company_id: companyId, account_id: accountId } };
}

export function useLessons(whose: Whose) {
  return useQuery({
    queryKey: ["lessons", whose.companyId, whose.accountId],
    gcTime: 0,
    queryFn: () => answer(client.GET(`${BASE}/lessons`, { params: params(whose) })),
  });
}

/** The rule that the examples teach, tried on the account's own texts; nothing is kept. */
export function useTrial(whose: Whose, lesson: Lesson) {
  return useQuery({
    queryKey: ["lesson", whose.companyId, whose.accountId, lesson],
    enabled: lesson.examples.length > 0,
    retry: false,
    gcTime: 0,
    queryFn: () => answer(client.POST(`${BASE}/lessons/try`, { params: params(whose), body: lesson })),
  });
}

export type Change =
  | { change: "reversals"; words: Lessons["reversals"] }
  | { change: "keep"; body: Kept }
  | { change: "forget reader"; id: number }
  | { change: "forget name"; key: string };

export function useTeaching(whose: Whose) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (what: Change): Promise<void> => {
      if (what.change === "keep") {
        await answer(client.POST(`${BASE}/readers`, { params: params(whose), body: what.body }));
      } else if (what.change === "reversals") {
        await answer(client.PUT(`${BASE}/reversals`, { params: params(whose), body: { words: what.words } }));
      } else if (what.change === "forget reader") {
        const path = { ...params(whose).path, reader_id: what.id };
        await answer(client.DELETE(`${BASE}/readers/{reader_id}`, { params: { path } }));
      } else {
        await answer(client.POST(`${BASE}/names/forget`, { params: params(whose), body: { key: what.key } }));
      }
    },
    onSuccess: () => queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "me" }),
  });
}

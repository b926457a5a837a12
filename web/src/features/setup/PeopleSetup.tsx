import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, client, type Schemas } from "../../api/client";
import { useNotices } from "../../ui/Notices";

type Right = Schemas["PeopleOut"]["rights"][number];

const WORDS: Record<string, string> = {
  seal: "seal",
  approve: "approve",
  break: "break seals",
  alter: "alter sealed",
  tick: "tick",
  manage: "setup",
};

/** Who works in a company and what each may do; rights are switched on or off against what the role says. */
export function PeopleSetup({ companyId }: { companyId: number }) {
  const queries = useQueryClient();
  const notices = useNotices();
  const path = { company_id: companyId };
  const found = useQuery({
    queryKey: ["people", companyId],
    queryFn: () => answer(client.GET("/api/companies/{company_id}/people", { params: { path } })),
  });
  const told = { onSuccess: () => queries.invalidateQueries(), onError: notices.fail };
  const switched = useMutation({
    mutationFn: ({ person, right, allowed }: { person: number; right: Right; allowed: boolean | null }) =>
      answer(
        client.PUT("/api/companies/{company_id}/people/{user_id}/rights", {
          params: { path: { ...path, user_id: person } },
          body: { right, allowed },
        }),
      ),
    ...told,
  });
  const review = useMutation({
    mutationFn: (on: boolean) =>
      answer(client.PUT("/api/companies/{company_id}/review", { params: { path }, body: { review: on } })),
    ...told,
  });
  return (
    <div className="mt-4">
      <div className="mb-1 flex items-center justify-between">
        <h3 className="font-bold text-wine">People and rights</h3>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-wine"
            checked={found.data?.review ?? false}
            onChange={(event) => review.mutate(event.target.checked)}
          />
          another person approves before a reconciliation is sealed
        </label>
      </div>
      <table className="w-full border-collapse bg-sheet">
        <thead className="text-xs text-muted">
          <tr className="border-b border-line">
            <th className="px-3 py-1.5 text-left font-normal">Person</th>
            <th className="text-left font-normal">Role</th>
            {found.data?.rights.map((right) => (
              <th key={right} className="font-normal">
                {WORDS[right]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {found.data?.people.map((person) => (
            <tr key={person.user_id} className="h-9 border-b border-hair">
              <td className="px-3">
                <b>{person.name}</b> <span className="text-xs text-muted">{person.email}</span>
              </td>
              <td>{person.role}</td>
              {found.data.rights.map((right) => {
                const byRole = person.by_role.includes(right);
                const has = person.switched[right] ?? byRole;
                return (
                  <td key={right} className="text-center">
                    <input
                      type="checkbox"
                      className="accent-wine"
                      aria-label={`${person.name} may ${WORDS[right]}`}
                      title={has === byRole ? "as the role says" : "switched for this person"}
                      checked={has}
                      onChange={(event) =>
                        switched.mutate({
                          person: person.user_id,
                          right,
                          allowed: event.target.checked === byRole ? null : event.target.checked,
                        })
                      }
                    />
                    {has !== byRole && <span className="ml-1 text-xs text-wine">switched</span>}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, use, type ReactNode } from "react";

import { answer, ApiError, client, setCsrfToken, type Schemas } from "../api/client";
import { SignIn } from "../features/sign-in/SignIn";

export type Me = Schemas["Me"];
type Company = Schemas["MyCompany"];

const Context = createContext<Me | null>(null);

/** Shows the application to whoever is signed in, and the sign-in page to everyone else. */
export function Session({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const me = useQuery({
    queryKey: ["me"],
    queryFn: async () => {
      const found = await answer(client.GET("/api/me"));
      setCsrfToken(found.csrf_token);
      return found;
    },
    retry: false,
    staleTime: Infinity,
  });
  if (me.isPending) return null;
  if (me.error) {
    const expired = me.error instanceof ApiError && me.error.problem.detail.includes("expired");
    return (
      <SignIn
        note={expired ? me.error.message : ""}
        onSignedIn={(found) => {
          setCsrfToken(found.csrf_token);
          queries.removeQueries({ predicate: (query) => query.queryKey[0] !== "me" });
          queries.setQueryData(["me"], found);
        }}
      />
    );
  }
  return <Context value={me.data}>{children}</Context>;
}

export function useMe(): Me {
  const found = use(Context);
  if (!found) throw new Error("nobody is signed in");
  return found;
}

/** One of my companies; a stand-in without rights for one that is not mine. */
export function useCompany(id: number): Company {
  const found = useMe().companies.find((company) => company.id === id);
  return found ?? { id, name: "", currency: "USD", locale: "en-US", role: "viewer", rights: [], review: false };
}

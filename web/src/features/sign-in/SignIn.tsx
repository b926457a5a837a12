import { useMutation } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";

import { answer, client, type Schemas } from "../../api/client";
import { useTheme } from "../../app/theme";
import { Button, Field, Trouble } from "../../ui/controls";
import { Mark } from "../../ui/Mark";

interface SignInProps {
  note: string;
  onSignedIn: (me: Schemas["Me"]) => void;
}

export function SignIn({ note, onSignedIn }: SignInProps) {
  useTheme();
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useMutation({
    mutationFn: () => answer(client.POST("/api/sign-in", { body: { email, password } })),
    onSuccess: onSignedIn,
  });
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    signIn.mutate();
  };
  return (
    <main className="grid h-full grid-cols-[1fr_30rem] max-lg:grid-cols-1">
      <section className="flex flex-col justify-between bg-paper p-14 max-lg:hidden">
        <p className="flex items-center gap-3 text-xl font-bold">
          <Mark size={34} />
          net naught
        </p>
        <LedgerFoot />
        <p className="max-w-md text-muted">
          Every account agreed with its statement and its ledger. What is sealed stays as it was; whatever moves is
          named.
        </p>
      </section>
      <section className="flex items-center border-l border-line bg-sheet px-14">
        <form onSubmit={submit} className="w-full space-y-4">
          <h1 className="text-xl font-bold">Sign in</h1>
          {note && <p className="rounded-md bg-slate-soft px-3 py-2">{note}</p>}
          <Field
            label="E-mail address"
            type="email"
            autoComplete="username"
            required
            autoFocus
            value={email}
            onChange={(event) => setEmail(event.target.value)}
          />
          <Field
            label="Password"
            type="password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
          {signIn.error && <Trouble>{signIn.error.message}</Trouble>}
          <Button weight="main" type="submit" disabled={signIn.isPending} className="w-full">
            Sign in
          </Button>
        </form>
      </section>
    </main>
  );
}

/** The foot of a ledger page, drawn: two columns that come to naught. */
function LedgerFoot() {
  const lines = [
    ["Closing", "48,210.55", "48,390.55", "Book balance"],
    ["In transit", "540.00", "−16.20", "Service charge"],
    ["Outstanding", "−376.20", "", ""],
  ];
  return (
    <div className="w-[34rem]" aria-hidden="true">
      <p className="mb-8 text-[2.6rem] leading-tight font-bold">
        Net to naught,
        <br />
        and it stays there.
      </p>
      <div className="grid grid-cols-[1fr_7rem_4.5rem_7rem_1fr] items-center text-muted">
        {lines.map(([left, bank, books, right]) => (
          <div key={left} className="col-span-5 grid grid-cols-subgrid border-b border-hair py-1.5">
            <span>{left}</span>
            <span className="figure text-right text-ink">{bank}</span>
            <span className="mx-auto h-full w-0.5 bg-line" />
            <span className="figure text-ink">{books}</span>
            <span className="text-right">{right}</span>
          </div>
        ))}
        <div className="col-span-5 grid grid-cols-subgrid items-center border-t-2 border-ink pt-2 font-bold text-ink">
          <span>Adjusted</span>
          <span className="figure text-right">48,374.35</span>
          <svg viewBox="0 0 32 32" className="mx-auto h-9 w-9">
            <circle cx="16" cy="16" r="11" fill="none" strokeWidth="5" className="stroke-wine" />
          </svg>
          <span className="figure">48,374.35</span>
          <span className="text-right">Adjusted</span>
        </div>
      </div>
    </div>
  );
}

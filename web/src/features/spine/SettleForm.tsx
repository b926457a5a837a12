import { useQuery } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";

import { answer, client, type Schemas } from "../../api/client";
import { Button } from "../../ui/controls";
import { AccountChoice } from "../books/AccountChoice";
import { useGlAccounts } from "../books/books";
import type { Desk, Line } from "./api";
import { useWriting } from "./writing";

interface SettleFormProps {
  desk: Desk;
  line: Line;
  busy: boolean;
  onSettle: (items: number[], writeOff: number | null) => void;
}

/** Unpaid invoices or bills that a line may settle; shown only where there are any. */
export function SettleForm({ desk, line, busy, onSettle }: SettleFormProps) {
  const found = useQuery({
    queryKey: ["settling", desk.companyId, desk.reconciliationId, line.id],
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/reconciliations/{reconciliation_id}/lines/{line_id}/open-items", {
          params: {
            path: { company_id: desk.companyId, reconciliation_id: desk.reconciliationId, line_id: line.id },
          },
        }),
      ),
  });
  if (!found.data?.items.length) return null;
  return <Form key={line.id} desk={desk} line={line} busy={busy} onSettle={onSettle} found={found.data} />;
}

const SHOWN = 6;

function Form({ desk, line, busy, onSettle, found }: SettleFormProps & { found: Schemas["SettlingOut"] }) {
  const write = useWriting();
  const accounts = useGlAccounts(desk.companyId);
  const [chosen, setChosen] = useState<number[]>(found.proposed);
  const [all, setAll] = useState(false);
  const [rest, setRest] = useState<"open" | "off">(found.off < 0 && found.proposed.length > 1 ? "off" : "open");
  const [account, setAccount] = useState<number | null>(null);
  const size = Math.abs(line.amount);
  const first = found.items.filter((item) => found.proposed.includes(item.id) || chosen.includes(item.id));
  const others = found.items.filter((item) => !first.includes(item));
  const listed = all ? [...first, ...others] : [...first, ...others].slice(0, Math.max(SHOWN, first.length));
  const owed = found.items.filter((item) => chosen.includes(item.id)).reduce((sum, item) => sum + item.open, 0);
  const short = owed - size;
  const off = short > 0 && rest === "off";
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    onSettle(chosen, off ? account : null);
  };
  return (
    <form
      onSubmit={submit}
      aria-label="Settle"
      data-settle={line.id}
      className="space-y-2 rounded-lg border border-line bg-sheet px-3 py-2.5"
    >
      <h3 className="text-xs font-semibold text-muted">
        Or it settles {line.amount < 0 ? "bills" : "invoices"} that are open
      </h3>
      {found.why && <p className="text-xs text-muted">Proposed: {found.why}.</p>}
      <ul>
        {listed.map((item) => (
          <li key={item.id}>
            <label className="flex items-baseline gap-2">
              <input
                type="checkbox"
                className="accent-wine"
                checked={chosen.includes(item.id)}
                onChange={(event) =>
                  setChosen(event.target.checked ? [...chosen, item.id] : chosen.filter((id) => id !== item.id))
                }
              />
              <span className="min-w-0 flex-1 truncate">
                <b>{item.number}</b> {item.party}
              </span>
              <span className="figure">{write.amount(item.open)}</span>
            </label>
          </li>
        ))}
      </ul>
      {listed.length < found.items.length && (
        <button type="button" className="font-semibold text-wine" onClick={() => setAll(true)}>
          {found.items.length - listed.length} more
        </button>
      )}
      {chosen.length > 0 && (
        <p className="flex justify-between text-muted">
          <span>{short > 0 ? "Short by" : short < 0 ? "Stays on account" : "Exactly what is owed"}</span>
          {short !== 0 && <span className="figure">{write.amount(Math.abs(short))}</span>}
        </p>
      )}
      {short > 0 && chosen.length > 0 && (
        <>
          {(["open", "off"] as const).map((way) => (
            <label key={way} className="flex items-center gap-2">
              <input type="radio" className="accent-wine" checked={rest === way} onChange={() => setRest(way)} />
              {way === "open" ? "the last one stays open for it" : "write it off, as a fee"}
            </label>
          ))}
          {off && (
            <AccountChoice label="To account" accounts={accounts.data ?? []} value={account} onChange={setAccount} />
          )}
        </>
      )}
      <Button type="submit" className="w-full" disabled={busy || !chosen.length || (off && account === null)}>
        Settle and match
      </Button>
    </form>
  );
}

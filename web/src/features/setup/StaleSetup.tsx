import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";

import { answer, client, type Schemas } from "../../api/client";
import { Button, Trouble } from "../../ui/controls";

type Rules = Schemas["StaleRulesBody"];

const PATH = "/api/companies/{company_id}/stale-rules";

/** When an entry that is not at the bank has been waiting too long, by its kind. */
export function StaleSetup({ companyId }: { companyId: number }) {
  const params = { path: { company_id: companyId } };
  const found = useQuery({
    queryKey: ["stale rules", companyId],
    queryFn: () => answer(client.GET(PATH, { params })),
  });
  if (found.error) return <Trouble>{found.error.message}</Trouble>;
  return found.data ? <Form companyId={companyId} rules={found.data} /> : null;
}

const LINES: [keyof Rules, string, string][] = [
  ["check_months", "A check", "months after its date"],
  ["deposit_days", "A deposit in transit", "days"],
  ["payment_days", "Any other payment", "days"],
];

function Form({ companyId, rules }: { companyId: number; rules: Rules }) {
  const queries = useQueryClient();
  const params = { path: { company_id: companyId } };
  const [texts, setTexts] = useState<Record<keyof Rules, string>>({
    check_months: String(rules.check_months),
    deposit_days: String(rules.deposit_days ?? ""),
    payment_days: String(rules.payment_days ?? ""),
  });
  const save = useMutation({
    mutationFn: (body: Rules) => answer(client.PUT(PATH, { params, body })),
    onSuccess: () => queries.invalidateQueries(),
  });
  const days = (text: string) => (text.trim() === "" ? null : Number(text));
  const changed = LINES.some(([name]) => texts[name] !== String(rules[name] ?? ""));
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    save.mutate({
      check_months: Number(texts.check_months),
      deposit_days: days(texts.deposit_days),
      payment_days: days(texts.payment_days),
    });
  };
  return (
    <form onSubmit={submit} className="mt-4" aria-label="When an outstanding entry is stale">
      <h3 className="mb-1 font-bold text-wine">When an outstanding entry is stale</h3>
      <div className="flex items-end gap-6 bg-sheet px-3 py-2">
        {LINES.map(([name, label, unit]) => (
          <label key={name}>
            <span className="mb-1 block text-xs text-muted">{label}, after</span>
            <input
              type="number"
              min={1}
              required={name === "check_months"}
              placeholder="never"
              className="figure w-20 rounded-md border border-line bg-paper px-2 py-1 text-right"
              value={texts[name]}
              onChange={(event) => setTexts({ ...texts, [name]: event.target.value })}
            />{" "}
            {unit}
          </label>
        ))}
        <Button type="submit" className="ml-auto" disabled={!changed || save.isPending}>
          Save
        </Button>
      </div>
      {save.error && <Trouble>{save.error.message}</Trouble>}
    </form>
  );
}

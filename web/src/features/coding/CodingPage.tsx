import { useState, type SyntheticEvent } from "react";
import { useParams } from "react-router";

import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { Button, Select, Trouble } from "../../ui/controls";
import { useGlAccounts } from "../books/books";
import { useCodingChange, useCodingLists, useRules, type Rule } from "./coding";
import { RuleDialog } from "./RuleDialog";

/** How a company codes its lines: rules in their order, parties, taxes, departments. */
export function CodingPage() {
  const companyId = Number(useParams().companyId);
  const company = useCompany(companyId);
  return (
    <Shell>
      <main className="h-full overflow-auto px-6 pt-5 pb-10">
        <h1 className="text-xl font-bold">Coding · {company.name}</h1>
        <div className="mt-4 grid grid-cols-[2fr_1fr] items-start gap-6">
          <Rules companyId={companyId} />
          <div className="space-y-6">
            <Parties companyId={companyId} />
            <Taxes companyId={companyId} />
            <Departments companyId={companyId} />
          </div>
        </div>
      </main>
    </Shell>
  );
}

function Rules({ companyId }: { companyId: number }) {
  const rules = useRules(companyId);
  const accounts = useGlAccounts(companyId);
  const change = useCodingChange(companyId);
  const [open, setOpen] = useState<Rule | "new" | null>(null);
  const name = (id: number) => accounts.data?.find((account) => account.id === id)?.name ?? "";
  const lift = (place: number) => {
    const ids = (rules.data ?? []).map((rule) => rule.id);
    ids.splice(place - 1, 0, ...ids.splice(place, 1));
    change.mutate({ change: "order rules", ids });
  };
  return (
    <section aria-label="Coding rules">
      <div className="mb-1 flex items-center justify-between">
        <h2 className="font-bold text-wine">Rules, the first that fits counts</h2>
        <Button onClick={() => setOpen("new")}>New rule</Button>
      </div>
      {rules.data?.length === 0 && (
        <p className="text-muted">
          None yet. Make one from a line on the Spine, or here; it is tried on all past lines before it is kept.
        </p>
      )}
      <table className="w-full border-collapse bg-sheet">
        <tbody>
          {rules.data?.map((rule, place) => (
            <tr key={rule.id} className={`h-10 border-b border-hair ${rule.active ? "" : "text-muted"}`}>
              <td className="w-8 pl-3">
                <input
                  type="checkbox"
                  className="accent-wine"
                  aria-label={`${rule.name} is on`}
                  checked={rule.active}
                  onChange={(event) =>
                    change.mutate({ change: "write rule", id: rule.id, values: rule, active: event.target.checked })
                  }
                />
              </td>
              <td>
                <b>{rule.name}</b>
                <span className="block text-xs text-muted">
                  {rule.how} “{rule.text}”{rule.kind ? `, ${rule.kind}` : ""}
                </span>
              </td>
              <td>
                {rule.shares.map((share) => name(share.gl_account_id)).join(", ")}
                {rule.at_once && <span className="block text-xs text-muted">recorded at once</span>}
              </td>
              <td className="text-muted">{rule.uses === 1 ? "used once" : `used ${rule.uses} times`}</td>
              <td className="pr-2 text-right whitespace-nowrap">
                {place > 0 && (
                  <Button weight="quiet" onClick={() => lift(place)}>
                    Earlier
                  </Button>
                )}
                <Button weight="quiet" onClick={() => setOpen(rule)}>
                  Change
                </Button>
                <Button weight="quiet" onClick={() => change.mutate({ change: "remove rule", id: rule.id })}>
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {change.error && <Trouble>{change.error.message}</Trouble>}
      {open && (
        <RuleDialog companyId={companyId} known={open === "new" ? undefined : open} onClose={() => setOpen(null)} />
      )}
    </section>
  );
}

const SMALL = "min-w-0 rounded-md border border-line bg-sheet px-2 py-0.5";

function Parties({ companyId }: { companyId: number }) {
  const lists = useCodingLists(companyId);
  const accounts = useGlAccounts(companyId);
  const change = useCodingChange(companyId);
  const [name, setName] = useState("");
  const [account, setAccount] = useState("");
  const words = (id: number | null | undefined) => {
    const found = accounts.data?.find((item) => item.id === id);
    return found ? `${found.number} ${found.name}` : "no usual account";
  };
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    change.mutate({ change: "write party", body: { name, gl_account_id: Number(account) || null } });
    setName("");
  };
  return (
    <section aria-label="Parties">
      <h2 className="mb-1 font-bold text-wine">Parties and their usual account</h2>
      <ul className="bg-sheet">
        {lists.data?.parties.map((party) => (
          <li key={party.name} className="flex justify-between gap-3 border-b border-hair px-3 py-1">
            {party.name} <span className="text-muted">{words(party.gl_account_id)}</span>
          </li>
        ))}
      </ul>
      <form className="mt-2 flex items-center gap-2" onSubmit={submit}>
        <input
          required
          aria-label="Party"
          placeholder="name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          className={`${SMALL} w-32`}
        />
        <Select
          inline
          label=""
          value={account}
          options={[["", "account …"], ...(accounts.data ?? []).map((a) => [String(a.id), a.name] as const)]}
          onChange={setAccount}
        />
        <Button type="submit">Save</Button>
      </form>
      {change.error && <Trouble>{change.error.message}</Trouble>}
    </section>
  );
}

function Taxes({ companyId }: { companyId: number }) {
  const lists = useCodingLists(companyId);
  const accounts = useGlAccounts(companyId);
  const change = useCodingChange(companyId);
  const [values, setValues] = useState({ code: "", rate: "", account: "" });
  const rate = /^\d{1,3}(\.\d{1,4})?$/.test(values.rate) ? Math.round(Number(values.rate) * 10_000) : null;
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    if (rate === null || !values.account) return;
    change.mutate({ change: "add tax", body: { code: values.code, rate, gl_account_id: Number(values.account) } });
    setValues({ ...values, code: "", rate: "" });
  };
  return (
    <section aria-label="Taxes">
      <h2 className="mb-1 font-bold text-wine">Taxes</h2>
      <ul className="bg-sheet">
        {lists.data?.taxes.map((tax) => (
          <li key={tax.id} className="flex justify-between border-b border-hair px-3 py-1">
            {tax.code} <span className="figure text-muted">{tax.rate / 10_000} %</span>
          </li>
        ))}
      </ul>
      <form className="mt-2 flex flex-wrap items-center gap-2" onSubmit={submit}>
        <input
          required
          aria-label="Tax code"
          placeholder="code"
          value={values.code}
          onChange={(event) => setValues({ ...values, code: event.target.value })}
          className={`${SMALL} w-20`}
        />
        <input
          required
          aria-label="Rate in percent"
          placeholder="8.875"
          aria-invalid={values.rate !== "" && rate === null}
          value={values.rate}
          onChange={(event) => setValues({ ...values, rate: event.target.value })}
          className={`${SMALL} figure w-20 text-right`}
        />
        %
        <Select
          inline
          label=""
          value={values.account}
          options={[["", "posted to …"], ...(accounts.data ?? []).map((a) => [String(a.id), a.name] as const)]}
          onChange={(account) => setValues({ ...values, account })}
        />
        <Button type="submit" disabled={rate === null || !values.account}>
          Add
        </Button>
      </form>
      {change.error && <Trouble>{change.error.message}</Trouble>}
    </section>
  );
}

function Departments({ companyId }: { companyId: number }) {
  const lists = useCodingLists(companyId);
  const change = useCodingChange(companyId);
  const [name, setName] = useState("");
  return (
    <section aria-label="Departments">
      <h2 className="mb-1 font-bold text-wine">Departments</h2>
      <p>{lists.data?.departments.map((department) => department.name).join(", ") || "none yet"}</p>
      <form
        className="mt-2 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ change: "add department", name });
          setName("");
        }}
      >
        <input
          required
          aria-label="Department"
          placeholder="name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          className={`${SMALL} w-40`}
        />
        <Button type="submit">Add</Button>
      </form>
      {change.error && <Trouble>{change.error.message}</Trouble>}
    </section>
  );
}

import { useState, type SyntheticEvent } from "react";

import type { Account } from "../../app/places";
import { Button, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { usePassSettings, useSetup, type PassSettings } from "./setup";
import { ComposedPasses } from "./ComposedPasses";
import { Buttons } from "./SetupPage";

interface PassesSetupProps {
  companyId: number;
  account: Account;
  onClose: () => void;
}

/** Which passes run for an account, in which order, and how far apart dates may be. */
export function PassesSetup({ companyId, account, onClose }: PassesSetupProps) {
  const found = usePassSettings(companyId, account.id);
  return (
    <Dialog title={`Passes of ${account.name}`} open wide onClose={onClose}>
      {found.error && <Trouble>{found.error.message}</Trouble>}
      {found.data && <PassesForm companyId={companyId} account={account} settings={found.data} onClose={onClose} />}
    </Dialog>
  );
}

type Setting = PassSettings["passes"][number];

function PassesForm({ companyId, account, settings, onClose }: PassesSetupProps & { settings: PassSettings }) {
  const setup = useSetup(companyId);
  const [passes, setPasses] = useState(settings.passes);
  const [composed, setComposed] = useState(settings.composed);
  const { usual, lags } = settings;
  const change = (place: number, part: Partial<Setting>) =>
    setPasses(passes.map((item, n) => (n === place ? { ...item, ...part } : item)));
  const lift = (place: number) => {
    const next = [...passes];
    next.splice(place - 1, 0, ...next.splice(place, 1));
    setPasses(next);
  };
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    // As long as nobody has set them, the fixed passes go on following the account's lags.
    const fixed = usual && passes === settings.passes ? [] : passes;
    setup.mutate({ set: "passes", accountId: account.id, body: { passes: fixed, composed } }, { onSuccess: onClose });
  };
  const days = (place: number, side: "before" | "after", value: number | null | undefined) =>
    value == null ? (
      <span className="text-muted">{side === "before" ? "within one side" : ""}</span>
    ) : (
      <>
        <input
          type="number"
          min={0}
          max={3660}
          required
          aria-label={`${passes[place]?.name ?? ""}: days ${side}`}
          value={value}
          onChange={(event) => change(place, { [side]: Number(event.target.value) })}
          className="figure w-20 rounded-md border border-line bg-sheet px-2 py-0.5 text-right"
        />{" "}
        <span className="text-muted">days</span>
      </>
    );
  return (
    <form onSubmit={submit} className="space-y-3">
      <table className="w-full border-collapse">
        <thead className="text-left text-xs text-muted">
          <tr className="border-b border-line">
            <th className="py-1.5 font-normal">Pass, in its order</th>
            <th className="font-normal">Entry dated before the bank by at most</th>
            <th className="font-normal">or after by</th>
            <th>
              <span className="sr-only">Order</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {passes.map((item, place) => (
            <tr key={item.name} className="h-9 border-b border-hair">
              <td>
                <label className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    className="accent-wine"
                    checked={item.active}
                    onChange={(event) => change(place, { active: event.target.checked })}
                  />
                  {item.name}
                </label>
              </td>
              <td>{days(place, "before", item.before)}</td>
              <td>{days(place, "after", item.after)}</td>
              <td className="text-right">
                {place > 0 && (
                  <Button weight="quiet" onClick={() => lift(place)}>
                    Earlier
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <ComposedPasses composed={composed} onChange={setComposed} />
      <p className="text-muted">
        {usual && lags > 0 && `Windows follow from how long ${lags} sealed matches took. `}
        {usual && lags === 0 && "Windows are the usual ones until enough has been sealed. "}
        They act at once on what is open; what is decided stays. A match is made only where nothing else could take its
        place, whatever the window.
      </p>
      {!usual && (
        <Button
          weight="quiet"
          onClick={() =>
            setup.mutate(
              { set: "passes", accountId: account.id, body: { passes: [], composed } },
              { onSuccess: onClose },
            )
          }
        >
          Back to the usual passes
        </Button>
      )}
      {setup.error && <Trouble>{setup.error.message}</Trouble>}
      <Buttons busy={setup.isPending} onClose={onClose} />
    </form>
  );
}

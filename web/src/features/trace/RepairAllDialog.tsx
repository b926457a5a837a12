import type { Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { money } from "../../format/money";
import { Button, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { capital, nameOf } from "./TracePage";
import { useRepairPreview, type Finding, type Wanted } from "./trace";

interface RepairAllDialogProps {
  place: Place;
  wanted: Wanted[];
  findings: Finding[];
  onClose: () => void;
  onRepair: () => void;
}

/** All repairs that need nothing typed, tried together: what each does, and where the gap ends. */
export function RepairAllDialog({ place, wanted, findings, onClose, onRepair }: RepairAllDialogProps) {
  const { locale } = useCompany(place.companyId);
  const shown = useRepairPreview(place, wanted);
  const write = (amount: number) => money(amount, place.account.currency, locale);
  const found = (id: number, at: number) => findings.find((f) => f.id === id && f.reconciliation_id === at);
  return (
    <Dialog title="What these repairs do together" open wide onClose={onClose}>
      {shown.error && <Trouble>{shown.error.message}</Trouble>}
      {shown.data && (
        <>
          <ul className="border-t border-hair">
            {shown.data.effects.map((effect) => {
              const finding = found(effect.id, effect.reconciliation_id);
              return (
                <li key={`${effect.reconciliation_id}/${effect.id}`} className="border-b border-hair py-1.5">
                  <p>
                    <b>{capital(effect.repair)}</b>
                    {finding && <span className="text-muted"> · {nameOf(finding)}</span>}
                  </p>
                  <p className="text-muted">{effect.text}</p>
                </li>
              );
            })}
          </ul>
          <p className="my-3">
            The books gap goes from <b className="figure">{write(shown.data.gap_before)}</b> to{" "}
            <b className="figure">{write(shown.data.gap_after)}</b>. One step: it can be taken back whole.
          </p>
        </>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button weight="main" disabled={!shown.data} onClick={onRepair}>
          {`Mend ${shown.data?.effects.length ?? ""} findings`}
        </Button>
      </div>
    </Dialog>
  );
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { spinePath } from "../../app/places";
import { useCompany } from "../../app/session";
import { Button, Field, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { connect, remoteAccounts, useConnection, useFetch, type Fetched } from "./bank";

/** Fetching from the bank's service where an account is connected; connecting it where it may be. */
export function BankButtons({ companyId, accountId }: { companyId: number; accountId: number }) {
  const company = useCompany(companyId);
  const connection = useConnection(companyId, accountId);
  const fetching = useFetch(companyId, accountId);
  const [connecting, setConnecting] = useState(false);
  const may = company.rights.includes("prepare");
  if (!may || connection.isPending) return null;
  return (
    <>
      {connection.data ? (
        <Button weight="main" disabled={fetching.isPending} onClick={() => fetching.mutate()}>
          {fetching.isPending ? "Asking the bank …" : "Fetch from the bank"}
        </Button>
      ) : (
        company.rights.includes("manage") && <Button onClick={() => setConnecting(true)}>Connect to the bank</Button>
      )}
      {fetching.error && (
        <Dialog title="The bank did not answer" open onClose={() => fetching.reset()}>
          <Trouble>{fetching.error.message}</Trouble>
        </Dialog>
      )}
      {fetching.data && <Brought companyId={companyId} fetched={fetching.data} onClose={() => fetching.reset()} />}
      {connecting && <ConnectDialog companyId={companyId} accountId={accountId} onClose={() => setConnecting(false)} />}
    </>
  );
}

function Brought({ companyId, fetched, onClose }: { companyId: number; fetched: Fetched; onClose: () => void }) {
  return (
    <Dialog title={fetched.needs_person ? "This needs you" : "From the bank"} open onClose={onClose}>
      <ul className="space-y-1">
        {fetched.sentences.map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </ul>
      <div className="mt-4 flex items-center justify-end gap-3">
        <Button onClick={onClose}>Close</Button>
        {fetched.reconciliation_id !== null && (
          <Link
            className="rounded-md bg-wine px-3 py-1 font-semibold text-on-wine"
            to={spinePath(companyId, fetched.reconciliation_id)}
          >
            Go to the Spine
          </Link>
        )}
      </div>
    </Dialog>
  );
}

function ConnectDialog({
  companyId,
  accountId,
  onClose,
}: {
  companyId: number;
  accountId: number;
  onClose: () => void;
}) {
  const queries = useQueryClient();
  const [address, setAddress] = useState("http://127.0.0.1:8027");
  const look = useMutation({ mutationFn: () => remoteAccounts(companyId, accountId, address) });
  const choose = useMutation({
    mutationFn: (remoteId: string) => connect(companyId, accountId, address, remoteId),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["connection", companyId, accountId] });
      onClose();
    },
  });
  return (
    <Dialog title="Connect to the bank's service" open onClose={onClose}>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          look.mutate();
        }}
      >
        <Field
          label="Address of the service"
          className="flex-1"
          value={address}
          onChange={(event) => setAddress(event.target.value)}
        />
        <Button weight="main" type="submit" disabled={look.isPending}>
          Look
        </Button>
      </form>
      {(look.error ?? choose.error) && <Trouble>{(look.error ?? choose.error)?.message}</Trouble>}
      {look.data && (
        <ul className="mt-3">
          {look.data.map((remote) => (
            <li key={remote.id} className="flex items-center justify-between border-b border-hair py-1.5">
              <span>
                <b>{remote.bank}</b> <span className="figure">{remote.number}</span> {remote.currency}
              </span>
              <Button weight="quiet" onClick={() => choose.mutate(remote.id)}>
                This one
              </Button>
            </li>
          ))}
        </ul>
      )}
    </Dialog>
  );
}

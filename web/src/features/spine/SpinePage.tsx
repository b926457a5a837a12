import { useParams } from "react-router";

import { placeOf, useBoard } from "../../app/places";
import { useCompany } from "../../app/session";
import { Shell } from "../../app/Shell";
import { Trouble } from "../../ui/controls";
import { useState } from "react";
import { useSpine } from "./api";
import { Workplace } from "./Workplace";
import { writing, WritingContext } from "./writing";

export function SpinePage() {
  const params = useParams();
  const desk = { companyId: Number(params.companyId), reconciliationId: Number(params.reconciliationId) };
  const company = useCompany(desk.companyId);
  const spine = useSpine(desk);
  const board = useBoard();
  const [help, setHelp] = useState(false);
  const place = placeOf(board.data, desk.companyId, spine.data?.account.id ?? 0);
  return (
    <Shell place={place} reconciliationId={desk.reconciliationId} onHelp={() => setHelp(true)}>
      {spine.error && (
        <div className="p-6">
          <Trouble>{spine.error.message}</Trouble>
        </div>
      )}
      {spine.data && place && (
        <WritingContext
          value={writing(spine.data.account.currency, company.locale, spine.data.closing_date.slice(0, 4))}
        >
          <Workplace
            key={desk.reconciliationId}
            desk={desk}
            spine={spine.data}
            place={place}
            help={help}
            onHelp={setHelp}
          />
        </WritingContext>
      )}
    </Shell>
  );
}

import type { ReactNode } from "react";
import { useParams } from "react-router";

import { Empty } from "../ui/controls";
import { placeOf, useBoard, type Place } from "./places";
import { Shell } from "./Shell";

/** A page about one account, named by the address; what is shown is made anew for each account. */
export function AccountPage({ children }: { children: (place: Place) => ReactNode }) {
  const params = useParams();
  const board = useBoard();
  const place = placeOf(board.data, Number(params.companyId), Number(params.accountId));
  return (
    <Shell place={place}>
      {board.data && !place && <Empty title="There is no such account among yours." />}
      {place && children(place)}
    </Shell>
  );
}

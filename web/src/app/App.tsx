import { lazy, Suspense } from "react";
import { Link, Route, Routes } from "react-router";

import { BoardPage } from "../features/board/BoardPage";
import { Empty } from "../ui/controls";
import { NoticesProvider } from "../ui/Notices";
import { Session } from "./session";

const SpinePage = lazy(() => import("../features/spine/SpinePage").then((m) => ({ default: m.SpinePage })));
const StatementsPage = lazy(() =>
  import("../features/statements/StatementsPage").then((m) => ({ default: m.StatementsPage })),
);
const AllStatementsPage = lazy(() =>
  import("../features/statements/AllStatementsPage").then((m) => ({ default: m.AllStatementsPage })),
);
const SetupPage = lazy(() => import("../features/setup/SetupPage").then((m) => ({ default: m.SetupPage })));
const BooksPage = lazy(() => import("../features/books/BooksPage").then((m) => ({ default: m.BooksPage })));
const ClearingPage = lazy(() => import("../features/books/ClearingPage").then((m) => ({ default: m.ClearingPage })));
const CodingPage = lazy(() => import("../features/coding/CodingPage").then((m) => ({ default: m.CodingPage })));
const OpenItemsPage = lazy(() => import("../features/books/OpenItemsPage").then((m) => ({ default: m.OpenItemsPage })));
const LedgerPage = lazy(() => import("../features/books/LedgerPage").then((m) => ({ default: m.LedgerPage })));
const JournalPage = lazy(() => import("../features/books/JournalPage").then((m) => ({ default: m.JournalPage })));
const TracePage = lazy(() => import("../features/trace/TracePage").then((m) => ({ default: m.TracePage })));
const OutstandingPage = lazy(() =>
  import("../features/outstanding/OutstandingPage").then((m) => ({ default: m.OutstandingPage })),
);
const TrailPage = lazy(() => import("../features/trail/TrailPage").then((m) => ({ default: m.TrailPage })));
const PapersPage = lazy(() => import("../features/papers/PapersPage").then((m) => ({ default: m.PapersPage })));

export function App() {
  return (
    <NoticesProvider>
      <Session>
        <Suspense fallback={null}>
          <Routes>
            <Route path="/" element={<BoardPage />} />
            <Route path="/setup" element={<SetupPage />} />
            <Route path="/statements" element={<AllStatementsPage />} />
            <Route path="/company/:companyId/account/:accountId/statements" element={<StatementsPage />} />
            <Route path="/company/:companyId/coding" element={<CodingPage />} />
            <Route path="/company/:companyId/open-items" element={<OpenItemsPage />} />
            <Route path="/company/:companyId/ledger" element={<LedgerPage />} />
            <Route path="/trail" element={<TrailPage />} />
            <Route path="/company/:companyId/journal" element={<JournalPage />} />
            <Route path="/company/:companyId/account/:accountId/trace" element={<TracePage />} />
            <Route path="/company/:companyId/account/:accountId/outstanding" element={<OutstandingPage />} />
            <Route path="/company/:companyId/clearing" element={<ClearingPage />} />
            <Route path="/company/:companyId/account/:accountId/books" element={<BooksPage />} />
            <Route path="/company/:companyId/reconciliation/:reconciliationId" element={<SpinePage />} />
            <Route path="/company/:companyId/reconciliation/:reconciliationId/papers" element={<PapersPage />} />
            <Route
              path="*"
              element={
                <Empty title="There is no such page.">
                  <Link className="font-semibold text-wine" to="/">
                    Back to the Board
                  </Link>
                </Empty>
              }
            />
          </Routes>
        </Suspense>
      </Session>
    </NoticesProvider>
  );
}

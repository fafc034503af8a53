import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Outlet, Route, Routes } from "react-router";
import { api, Problem, signedOut, take } from "../shared/api/client";
import { local } from "../shared/format";
import { rehearsing } from "../shared/home";
import { lost } from "../shared/lost";
import { Banner } from "../shared/rehearsal/Banner";
import { Trouble } from "../shared/Trouble";
import { TodayContext } from "../shared/today";
import { Bar, Keys } from "./Bar";
import { Bench } from "./bench/Bench";
import { SheetBench } from "./bench/SheetBench";
import { Calendar } from "./calendar/Calendar";
import { Customer } from "./customers/Customer";
import { Customers } from "./customers/Customers";
import { HandOver } from "./handover/HandOver";
import { HereContext } from "./here";
import { Coupons } from "./money/Coupons";
import { Earnings } from "./money/Earnings";
import { Entries } from "./money/Entries";
import { Money } from "./money/Money";
import { StatementPage } from "./money/StatementPage";
import { Terms } from "./money/Terms";
import { Transfers } from "./money/Transfers";
import { Vouchers } from "./money/Vouchers";
import { WhatIf } from "./money/WhatIf";
import { NewOrder } from "./orders/NewOrder";
import { Orders } from "./orders/Orders";
import { Answers } from "./products/Answers";
import { Arrange } from "./products/Arrange";
import { Groups } from "./products/Groups";
import { Products } from "./products/Products";
import { Stock } from "./products/Stock";
import { Stops } from "./products/Stops";
import { Rehearsals } from "./rehearse/Rehearsals";
import { SignIn } from "./SignIn";
import { Log } from "./settings/Log";
import { Outbox } from "./settings/Outbox";
import { Sessions } from "./settings/Sessions";
import { Settings } from "./settings/Settings";
import { Today } from "./today/Today";
import { Labels } from "./work/Labels";
import { Learned } from "./work/Learned";
import { LearnedStep } from "./work/LearnedStep";
import { Work } from "./work/Work";
import { Workbench } from "./work/Workbench";
import { Worksheet } from "./work/Worksheet";
import "./desk.css";

export function App() {
  const session = useQuery({
    queryKey: ["session"],
    queryFn: () => take(api.GET("/api/desk/session")),
    retry: false,
    refetchInterval: 60_000,
  });
  const { refetch } = session;
  useEffect(() => {
    const look = () => void refetch();
    window.addEventListener(signedOut, look);
    return () => window.removeEventListener(signedOut, look);
  }, [refetch]);
  const out = session.error instanceof Problem && session.error.status === 401;
  if (!out && lost(session)) return <Trouble error={session.error} again={() => refetch()} />;
  if (!session.data) return out ? rehearsing ? <SignInFirst /> : <SignIn /> : null;
  const here = { session: session.data, today: local(session.data.now, session.data.zone).day };
  return (
    <HereContext.Provider value={here}>
      <TodayContext.Provider value={here.today}>
        {/* What was typed when the session ended is there again after signing in. */}
        {out && (rehearsing ? <SignInFirst /> : <SignIn />)}
        <div hidden={out}>
          <Routes>
            <Route path="work/:product/:step/bench" element={<Workbench />} />
            <Route element={<Frame />}>
              <Route index element={<Today />} />
              <Route path="products" element={<Products />} />
              <Route path="products/stock" element={<Stock />} />
              <Route path="products/groups" element={<Groups />} />
              <Route path="products/checkout" element={<Arrange />} />
              <Route path="products/rehearsals" element={<Rehearsals />} />
              <Route path="products/:id/stops" element={<Stops />} />
              <Route path="products/:id/answers" element={<Answers key="product" of="product" />} />
              <Route path="sheets/:id/answers" element={<Answers key="sheet" of="sheet" />} />
              <Route path="products/:id" element={<Bench />} />
              <Route path="sheets/:id" element={<SheetBench />} />
              <Route path="orders/new" element={<NewOrder />} />
              <Route path="orders/customers" element={<Customers />} />
              <Route path="orders/customers/of" element={<Customer />} />
              <Route path="orders/:line?" element={<Orders />} />
              <Route path="work" element={<Work />} />
              <Route path="work/handover" element={<HandOver />} />
              <Route path="work/learned" element={<Learned />} />
              <Route path="work/learned/:product/:step" element={<LearnedStep />} />
              <Route path="work/:product/:step" element={<Worksheet />} />
              <Route path="work/:product/:step/labels" element={<Labels />} />
              <Route path="calendar" element={<Calendar />} />
              <Route path="money" element={<Money />} />
              <Route path="money/entries" element={<Entries />} />
              <Route path="money/earnings" element={<Earnings />} />
              <Route path="money/what-if" element={<WhatIf />} />
              <Route path="money/transfers" element={<Transfers />} />
              <Route path="money/transfers/:id" element={<StatementPage />} />
              <Route path="settings" element={<Settings />} />
              <Route path="money/coupons" element={<Coupons />} />
              <Route path="money/vouchers" element={<Vouchers />} />
              <Route path="money/terms" element={<Terms />} />
              <Route path="outbox" element={<Outbox />} />
              <Route path="log" element={<Log />} />
              <Route path="sessions" element={<Sessions />} />
              <Route path="*" element={<Nowhere />} />
            </Route>
          </Routes>
        </div>
      </TodayContext.Provider>
    </HereContext.Provider>
  );
}

function Frame() {
  const [keys, setKeys] = useState(false);
  return (
    <div className="desk">
      <Banner />
      <Bar showKeys={() => setKeys(true)} />
      <Outlet />
      <Keys open={keys} close={() => setKeys(false)} />
    </div>
  );
}

// SignInFirst leads to the desk itself: one is at a rehearsal's desk who is there.
function SignInFirst() {
  const { t } = useTranslation();
  return (
    <div className="desk">
      <Banner />
      <main className="desk-page">
        <div className="empty">
          <p>{t("Sign in at the desk, and come back to the desk of the rehearsal.")}</p>
          <a href="/desk">{t("To the desk")}</a>
        </div>
      </main>
    </div>
  );
}

function Nowhere() {
  const { t } = useTranslation();
  return (
    <main className="desk-page">
      <div className="empty">{t("There is nothing at this address.")}</div>
    </main>
  );
}

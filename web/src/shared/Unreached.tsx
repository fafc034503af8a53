import { notifyManager, onlineManager, useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { useTranslation } from "react-i18next";
import { pause, unreached } from "./lost";

// Unreached says that the page is as it was a moment ago, while the server cannot be
// reached, and looks by itself whether it can be again.
export function Unreached() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const cache = queries.getQueryCache();
  const old = useSyncExternalStore(
    (changed) => {
      const stop = [cache.subscribe(notifyManager.batchCalls(changed)), onlineManager.subscribe(changed)];
      return () => {
        for (const s of stop) s();
      };
    },
    () =>
      !onlineManager.isOnline() ||
      cache.getAll().some((q) => q.isActive() && q.state.data !== undefined && unreached(q.state)),
  );
  useEffect(() => {
    if (!old) return;
    const again = () => queries.refetchQueries({ type: "active", predicate: (q) => unreached(q.state) });
    const timer = setInterval(again, pause);
    return () => clearInterval(timer);
  }, [old, queries]);
  return (
    <div role="status" className="unreached">
      {old && t("What is new does not come through. You see this page as it was; it goes on by itself.")}
    </div>
  );
}
